import { StyleSheet } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { apply } from '../../../../core/geometry/matrix';
import { viewMatrix } from '../../../../core/geometry/view';
import { guideLines } from '../../../../core/sheet/guides';
import { useViewOf } from '../../../canvas/use-view-of';
import { useOpenSheet } from '../../../session/session-context';
import { useWatched } from '../../../session/watched';
import { useAppSelector } from '../../../store/store';
import { ON_PAPER } from '../../../theme/theme';

/** The sheet's guides, over picture and ink; away with the picture. Thin at any zoom. */
export function GuidesOverPaper() {
  const { session, placing } = useOpenSheet();
  const kept = useAppSelector((s) => s.sheet.settings?.guides);
  const isAway = useAppSelector(
    (s) => s.sheet.looking.peekHeld || s.sheet.looking.peekKept || s.sheet.looking.isElsewhere,
  );
  const drafted = useWatched(placing.guides);
  const { stage, paper } = session;
  const guides = drafted ?? kept;
  const isShown = guides && !isAway;
  useViewOf(stage, Boolean(isShown));
  if (!isShown || !stage) return null;
  const view = viewMatrix(stage.view);
  const at = (x: number, y: number) => apply(view, x, y).map((v) => v.toFixed(1));
  const lines = guideLines(guides, paper).map(([x0, y0, x1, y1]) => `M${at(x0, y0).join(' ')}L${at(x1, y1).join(' ')}`);
  return (
    <Svg width="100%" height="100%" style={[StyleSheet.absoluteFill, styles.passes]} testID="guides" aria-hidden>
      <Path d={lines.join('')} stroke="#FFFFFF" strokeOpacity={0.6} strokeWidth={2.5} fill="none" />
      <Path d={lines.join('')} stroke={ON_PAPER} strokeOpacity={0.7} strokeWidth={1} fill="none" />
    </Svg>
  );
}

const styles = StyleSheet.create({ passes: { pointerEvents: 'none' } });
