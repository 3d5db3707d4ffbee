import { useRef } from 'react';
import { StyleSheet } from 'react-native';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import { isScaffolding } from '../../../../core/sheet/entities';
import { IconButton } from '../../../components/button';
import { HOLD_MS, pressTime } from '../../../components/press-time';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';

/** Held: picture and roughs are away. Tapped: they stay away until tapped again. */
export function PeekButton({ slim = false }: { slim?: boolean }) {
  const dispatch = useAppDispatch();
  const { peekHeld, peekKept } = useAppSelector((s) => s.sheet.looking);
  const hasScaffolding = useAppSelector((s) => s.sheet.stack.some(isScaffolding));
  const downAt = useRef(0);
  const look = (part: Parameters<typeof sheetSlice.actions.look>[0]) => dispatch(sheetSlice.actions.look(part));
  const away = peekHeld || peekKept;
  return (
    <IconButton
      label="Peek: picture away while held; tap to keep it away"
      caption={slim ? undefined : 'Peek'}
      icon={away ? EyeOff : Eye}
      chosen={away && hasScaffolding}
      disabled={!hasScaffolding}
      size={18}
      style={slim ? undefined : styles.button}
      onPressIn={(e) => {
        downAt.current = pressTime(e);
        look({ peekHeld: true });
      }}
      onPressOut={(e) => {
        const tapped = pressTime(e) - downAt.current < HOLD_MS;
        look({ peekHeld: false, peekKept: tapped ? !peekKept : peekKept });
      }}
    />
  );
}

const styles = StyleSheet.create({ button: { minWidth: 60, minHeight: 48, flexGrow: 0 } });
