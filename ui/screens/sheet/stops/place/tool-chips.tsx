import { Choice } from '../../../../components/choice';
import { useOpenSheet } from '../../../../session/session-context';
import { PLACE_TOOLS, type PlaceTool } from '../../../../session/placing';
import { useWatched } from '../../../../session/watched';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useLayoutKind } from '../../frame/layout-kind';
import { useAppDispatch } from '../../../../store/store';

const NAMES: Record<PlaceTool, string> = {
  lay: 'Lay',
  crop: 'Crop',
  tone: 'Tone',
  lift: 'Lift',
  trace: 'Trace',
  paper: 'Paper',
};
const OPTIONS = PLACE_TOOLS.map((value) => ({ value, label: NAMES[value] }));

/** What can be done to the picture. */
export function ToolChips() {
  const dispatch = useAppDispatch();
  const { placing, cropping } = useOpenSheet();
  const tool = useWatched(placing.tool);
  const kind = useLayoutKind();
  return (
    <Choice
      scrolls={kind === 'phone'}
      label="What to do with the picture"
      options={OPTIONS}
      value={tool}
      onChange={(chosen) => {
        cropping.drop();
        dispatch(sheetSlice.actions.movePicture(null));
        placing.tool.set(chosen);
      }}
    />
  );
}
