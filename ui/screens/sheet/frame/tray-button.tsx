import { Pressable, StyleSheet } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import { Words } from '../../../components/text';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';

/** Opens the rest of a tray, and closes it. @param label what a screen reader says. */
export function TrayButton({
  text,
  label,
  expanded,
  onPress,
}: {
  text: string;
  label: string;
  expanded: boolean;
  onPress(): void;
}) {
  const theme = useTheme();
  const Chevron = expanded ? ChevronDown : ChevronUp;
  return (
    <Pressable
      role="button"
      aria-label={label}
      aria-expanded={expanded}
      onPress={onPress}
      style={[styles.button, { borderColor: theme.rule, backgroundColor: theme.raised }]}
    >
      <Words strong numberOfLines={1} style={styles.text}>
        {text}
      </Words>
      <Chevron size={18} color={theme.quiet} />
    </Pressable>
  );
}

const styles = StyleSheet.create({
  button: {
    minHeight: 54,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 6,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingHorizontal: 12,
  },
  text: { flexShrink: 1, maxWidth: 120 },
});
