import { useRef } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import Eraser from 'lucide-react-native/icons/eraser';
import Redo2 from 'lucide-react-native/icons/redo-2';
import Undo2 from 'lucide-react-native/icons/undo-2';
import { IconButton } from '../../components/button';
import { HOLD_MS, pressTime } from '../../components/press-time';
import { Words } from '../../components/text';
import { useOpenSheet } from '../../sheet/session-context';
import { isErasing, penSlice } from '../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';

/** Undo, redo, eraser; and the zoom, which fits the page when tapped and levels it when held. */
export function Floats({ eraser }: { eraser: boolean }) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const undo = useAppSelector((s) => s.sheet.undo);
  const redo = useAppSelector((s) => s.sheet.redo);
  const pen = useAppSelector((s) => s.pen);
  const { scale, turnDeg } = useAppSelector((s) => s.sheet.view);
  const downAt = useRef(0);
  const held = useRef(false);
  const zoom = `${Math.round(scale * 100)} %`;
  return (
    <View style={[styles.row, left && styles.mirrored]}>
      <View style={[styles.group, left && styles.mirrored]}>
        <IconButton
          label={undo.label ? `Undo: ${undo.label}` : 'Undo'}
          icon={Undo2}
          disabled={undo.count === 0}
          onPress={() => void session.undo()}
        />
        <IconButton
          label={redo.label ? `Redo: ${redo.label}` : 'Redo'}
          icon={Redo2}
          disabled={redo.count === 0}
          onPress={() => void session.redo()}
        />
        {eraser && (
          <IconButton
            label="Eraser: tap to keep it, hold to borrow it"
            icon={Eraser}
            chosen={isErasing(pen)}
            onPressIn={(e) => {
              downAt.current = pressTime(e);
              dispatch(penSlice.actions.holdEraser(true));
            }}
            onPressOut={(e) => {
              const tapped = pressTime(e) - downAt.current < HOLD_MS;
              dispatch(penSlice.actions.holdEraser(false));
              if (tapped) dispatch(penSlice.actions.setErasing(!pen.erasing));
            }}
          />
        )}
      </View>
      <Pressable
        role="button"
        aria-label={`${zoom} · ${Math.round(turnDeg)}°. Zoom and turn: tap to fit the page, hold to level it`}
        onPressIn={() => (held.current = false)}
        onLongPress={() => {
          held.current = true;
          session.stage?.fit(0);
        }}
        onPress={() => !held.current && session.stage?.fit()}
        style={[styles.zoom, { backgroundColor: theme.raised, borderColor: theme.rule }]}
      >
        <Words size={14}>{`${zoom} · ${Math.round(turnDeg)}°`}</Words>
      </Pressable>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', justifyContent: 'space-between', padding: 10, pointerEvents: 'box-none' },
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
