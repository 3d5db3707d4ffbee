import { useEffect, useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import GripVertical from 'lucide-react-native/icons/grip-vertical';
import { TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';

interface Props {
  name: string;
  /** The row is dragged by so many px; `undefined`: it is let go where it was. */
  onDrag(dy: number | undefined): void;
  onDrop(dy: number): void;
  /** One place up (+1) or down (-1), by keys. */
  onStep(by: 1 | -1): void;
}

/** What a layer's row is dragged by in the stack: finger, pen, mouse, or the arrow keys. */
export function LayerGrip(props: Props) {
  const theme = useTheme();
  const element = useRef<View>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  useEffect(() => {
    const node = element.current as unknown as HTMLElement;
    let from: { id: number; y: number } | undefined;
    const abort = new AbortController();
    const on = <K extends keyof HTMLElementEventMap>(type: K, listen: (e: HTMLElementEventMap[K]) => void) =>
      node.addEventListener(type, listen, { signal: abort.signal });
    on('pointerdown', (e) => {
      if (from || e.button > 0) return;
      e.preventDefault();
      node.setPointerCapture(e.pointerId);
      from = { id: e.pointerId, y: e.clientY };
    });
    on('pointermove', (e) => from?.id === e.pointerId && latest.current.onDrag(e.clientY - from.y));
    on('pointerup', (e) => {
      if (from?.id !== e.pointerId) return;
      latest.current.onDrop(e.clientY - from.y);
      from = undefined;
    });
    on('pointercancel', () => {
      from = undefined;
      latest.current.onDrag(undefined);
    });
    return () => abort.abort();
  }, []);
  const { name } = props;
  const onKeyDown = (e: { key: string; preventDefault(): void }) => {
    if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
    e.preventDefault();
    latest.current.onStep(e.key === 'ArrowUp' ? 1 : -1);
  };
  return (
    <View
      ref={element}
      role="button"
      tabIndex={0}
      aria-label={`Drag ${name}, or move it with the arrow keys`}
      style={styles.grip}
      {...({ onKeyDown } as object)}
    >
      <View aria-hidden style={styles.passes}>
        <GripVertical size={18} color={theme.quiet} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  grip: {
    width: 28,
    minHeight: TOUCH,
    marginLeft: -6,
    alignItems: 'center',
    justifyContent: 'center',
    cursor: 'grab',
    touchAction: 'none',
  } as object,
  passes: { pointerEvents: 'none' },
});
