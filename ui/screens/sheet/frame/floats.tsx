import { useRef } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { useAppSelector } from '../../../store/store';
import { RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { useStop } from '../stops/stop';
import { EraserButton } from './eraser-button';
import { useLayoutKind } from './layout-kind';
import { PaperOnlyButton } from './paper-only';
import { PeekButton } from './peek-button';
import { StepButton } from './step-button';

/**
 * Undo, redo, eraser; and the zoom, which fits the page when tapped and levels it when held.
 * `upright`: at mid-height beside the paper, with peek, for the hand that holds.
 */
export function Floats({ eraser, upright = false }: { eraser: boolean; upright?: boolean }) {
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const kind = useLayoutKind();
  const { Float: Own } = useStop();
  return (
    <View style={upright ? styles.column : [styles.row, left && styles.mirrored]}>
      <View style={upright ? styles.upright : [styles.group, left && styles.mirrored]}>
        <StepButton side="undo" />
        <StepButton side="redo" />
        {eraser && <EraserButton />}
        {Own && <Own />}
        {upright && <PeekButton />}
      </View>
      <View style={[styles.group, left && styles.mirrored]}>
        {eraser && kind === 'phone' && <PaperOnlyButton />}
        <ZoomButton />
      </View>
    </View>
  );
}

/** How large and how turned the paper is shown: tapped it fits, held it levels. */
export function ZoomButton() {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const { scale, turnDeg } = useAppSelector((s) => s.sheet.view);
  const held = useRef(false);
  const words = `${Math.round(scale * 100)}\u00a0% · ${Math.round(turnDeg) % 360}°`;
  return (
    <Pressable
      role="button"
      aria-label={`${words.replace('\u00a0', ' ')}. Zoom and turn: tap to fit the page, hold to level it`}
      onPressIn={() => (held.current = false)}
      onLongPress={() => {
        held.current = true;
        session.stage?.fit(0);
      }}
      onPress={() => !held.current && session.stage?.fit()}
      style={[styles.zoom, { backgroundColor: theme.raised, borderColor: theme.rule }]}
    >
      <Words size={14}>{words}</Words>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', justifyContent: 'space-between', padding: 10, pointerEvents: 'box-none' },
  column: { alignItems: 'center', padding: 10, gap: 8, pointerEvents: 'box-none' },
  upright: { gap: 8, alignItems: 'center', pointerEvents: 'box-none' },
  mirrored: { flexDirection: 'row-reverse' },
  group: { flexDirection: 'row', gap: 8, pointerEvents: 'box-none' },
  zoom: {
    minHeight: TOUCH,
    minWidth: 92,
    paddingHorizontal: 10,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
