import LassoSelect from 'lucide-react-native/icons/lasso-select';
import { IconButton } from '../../../../../components/button';
import { useOpenSheet } from '../../../../../session/session-context';
import { sheetSlice } from '../../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';
import { KEY_NAMES } from '../../../key-names';

/** Draws new lines, or picks and changes those that are there. */
export function EditButton() {
  const dispatch = useAppDispatch();
  const { picking } = useOpenSheet();
  const editing = useAppSelector((s) => s.sheet.editing);
  return (
    <IconButton
      keys={KEY_NAMES.edit}
      label={editing ? 'Edit lines is on: tap to draw again' : 'Edit lines: pick, move and change them'}
      icon={LassoSelect}
      chosen={editing}
      onPress={() => {
        dispatch(sheetSlice.actions.setEditing(!editing));
        if (editing) picking.clear();
        else dispatch(sheetSlice.actions.unfold());
      }}
    />
  );
}
