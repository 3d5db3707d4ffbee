import { useRef } from 'react';
import { StyleSheet, View } from 'react-native';
import GripVertical from 'lucide-react-native/icons/grip-vertical';
import { useDrag, type Place } from '../../../components/use-drag';
import { TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';

interface Props {
  name: string;
  /** The row is dragged by so many px; `undefined`: it is let go where it was. */
  onDrag(by: Place | undefined): void;
  onDrop(by: Place): void;
  /** One place up or down, by keys. */
  onStep(side: 'up' | 'down'): void;
}

/** What a layer's row is dragged by in the stack: finger, pen, mouse, or the arrow keys. */
export function LayerGrip(props: Props) {
  const theme = useTheme();
  const from = useRef<Place>({ x: 0, y: 0 });
  const since = ({ x, y }: Place): Place => ({ x: x - from.current.x, y: y - from.current.y });
  const element = useDrag({
    begin: (at) => {
      from.current = at;
    },
    move: (at) => props.onDrag(since(at)),
    end: (at) => props.onDrop(since(at)),
    drop: () => props.onDrag(undefined),
  });
  const { name } = props;
  const onKeyDown = (e: { key: string; preventDefault(): void }) => {
    if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
    e.preventDefault();
    props.onStep(e.key === 'ArrowUp' ? 'up' : 'down');
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
