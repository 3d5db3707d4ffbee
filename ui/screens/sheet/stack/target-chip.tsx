import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import EyeOff from 'lucide-react-native/icons/eye-off';
import Lock from 'lucide-react-native/icons/lock';
import { isInkable } from '../../../../core/sheet/entities';
import { isLocked, isVisible } from '../../../../core/sheet/layer-tree';
import { Words } from '../../../components/text';
import { useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { LayerThumb } from './layer-thumb';
import { KIND_NAMES } from './layer-words';

/** Where ink lands: the layer's name, kind and look. Opens the stack. */
export function TargetChip({
  onPress,
  expanded,
  colour: given,
  instead,
  narrow = false,
}: {
  onPress(): void;
  expanded: boolean;
  /** Another colour than that of ink. */
  colour?: string;
  /** A layer that is made by the next act. */
  instead?: string;
  /** There is little room for it. */
  narrow?: boolean;
}) {
  const theme = useTheme();
  const layer = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.settings?.target));
  const inkColour = useAppSelector((s) => s.pen.colour);
  const colour = given ?? inkColour;
  // Where there is little room, the colours stand right below.
  const hasDot = !narrow || given === undefined;
  const stack = useAppSelector((s) => s.sheet.stack);
  const layers = new Map(stack.map((one) => [one.id, one]));
  const usable = isInkable(layer) && instead === undefined;
  const isHidden = usable && !isVisible(layer, layers);
  const isShut = usable && isLocked(layer, layers);
  const blocked = instead === undefined && (!usable || isShut || isHidden);
  const Warn = !usable || !isShut ? EyeOff : Lock;
  const about =
    instead !== undefined
      ? 'Made by the first pour'
      : !usable
        ? 'Choose one'
        : isShut
          ? 'locked'
          : isHidden
            ? 'hidden'
            : KIND_NAMES[layer.kind];
  return (
    <Pressable
      role="button"
      aria-expanded={expanded}
      onPress={onPress}
      style={[styles.chip, { borderColor: blocked ? theme.warning : theme.rule, backgroundColor: theme.raised }]}
    >
      {usable && <LayerThumb layer={layer} size={narrow ? 26 : 34} />}
      <View style={styles.words}>
        <Words strong numberOfLines={1} size={15}>
          {instead ?? layer?.name ?? 'No layer'}
        </Words>
        <View style={styles.line}>
          {blocked && <Warn size={13} color={theme.warning} />}
          <Words
            size={12}
            quiet={!blocked}
            numberOfLines={1}
            style={[styles.about, blocked && { color: theme.warning }]}
          >
            {about}
          </Words>
          {hasDot && <View style={[styles.colour, { backgroundColor: colour, borderColor: theme.edge }]} />}
        </View>
      </View>
      {!narrow && <ChevronDown size={16} color={theme.quiet} />}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  chip: {
    minHeight: 54,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingHorizontal: 8,
    paddingVertical: 4,
    flexGrow: 1,
    flexShrink: 1,
  },
  words: { flex: 1, minWidth: 0 },
  about: { flexShrink: 1 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 6 },
  colour: { width: 10, height: 10, borderRadius: 5, borderWidth: 1 },
});
