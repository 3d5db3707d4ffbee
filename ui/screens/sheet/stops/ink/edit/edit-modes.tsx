import { Choice } from '../../../../../components/choice';
import { useOpenSheet } from '../../../../../session/session-context';
import { EDIT_MODES, sheetSlice, type EditMode } from '../../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../../store/store';

const NAMES: Record<EditMode, string> = { pick: 'Pick', points: 'Points', bend: 'Bend', snip: 'Snip', mend: 'Mend' };
const OPTIONS = EDIT_MODES.map((value) => ({ value, label: NAMES[value] }));

/** Ways of changing lines. */
export function EditModes() {
  const dispatch = useAppDispatch();
  const { picking, bending } = useOpenSheet();
  const mode = useAppSelector((s) => s.sheet.editMode);
  return (
    <Choice
      label="Ways of changing lines"
      options={OPTIONS}
      value={mode}
      onChange={(chosen) => {
        // One that is picked is the one that is meant.
        const [only, ...others] = picking.strokes;
        if (chosen !== 'pick') picking.clear();
        dispatch(sheetSlice.actions.setEditMode(chosen));
        const takes = chosen === 'points' || chosen === 'bend';
        if (takes && only && !others.length) void bending.holdLine(only.id);
      }}
    />
  );
}
