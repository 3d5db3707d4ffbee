import type { ComponentType } from 'react';
import { Pressable, StyleSheet, View, type PressableProps, type StyleProp, type ViewStyle } from 'react-native';
import { RADIUS, TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

export type Icon = ComponentType<{ size?: number; color?: string; strokeWidth?: number }>;

/** Presses count at once: the web's default waits 50 ms, and a quicker tap would never have begun. */
const AT_ONCE = { delayPressIn: 0 } as object;

interface Common extends Omit<PressableProps, 'children' | 'style'> {
  style?: StyleProp<ViewStyle>;
  chosen?: boolean;
}

/** A button with words, and an icon if there is one. */
export function Button({
  label,
  icon: IconShape,
  tone = 'plain',
  chosen,
  style,
  disabled,
  ...rest
}: Common & { label: string; icon?: Icon; tone?: 'plain' | 'main' | 'warning' }) {
  const theme = useTheme();
  const fill = { plain: theme.raised, main: theme.accent, warning: theme.warning }[tone];
  const ink = { plain: theme.text, main: theme.onAccent, warning: theme.onWarning }[tone];
  return (
    <Pressable
      role="button"
      aria-pressed={chosen}
      disabled={disabled}
      style={({ pressed }) => [
        styles.button,
        {
          backgroundColor: chosen ? theme.chosen : fill,
          borderColor: tone === 'plain' ? (chosen ? theme.accent : theme.rule) : fill,
        },
        pressed && styles.pressed,
        disabled && styles.disabled,
        style,
      ]}
      {...AT_ONCE}
      {...rest}
    >
      {IconShape && <IconShape size={20} color={chosen ? theme.accent : ink} strokeWidth={1.75} />}
      <Words strong style={{ color: chosen ? theme.accent : ink }}>
        {label}
      </Words>
    </Pressable>
  );
}

/** What a mouse that rests over it is told. */
const hinted = (hint: string) => (view: View | null) => {
  if (view) (view as unknown as HTMLElement).title = hint;
};

/**
 * A button that is an icon, named for those who cannot see it, and where a mouse rests over it; with `caption` the name
 * stands below.
 * @param keys that do the same, as they are told.
 */
export function IconButton({
  label,
  keys,
  icon: IconShape,
  chosen,
  boxed = true,
  caption,
  style,
  disabled,
  size = 22,
  ...rest
}: Common & { label: string; keys?: string; icon: Icon; boxed?: boolean; caption?: string; size?: number }) {
  const theme = useTheme();
  const ink = chosen ? theme.accent : theme.text;
  return (
    <Pressable
      ref={hinted(keys ? `${label} (${keys})` : label)}
      role="button"
      aria-label={label}
      aria-pressed={chosen}
      disabled={disabled}
      style={({ pressed }) => [
        styles.icon,
        boxed && {
          borderWidth: 1,
          borderColor: chosen ? theme.accent : theme.rule,
          backgroundColor: chosen ? theme.chosen : theme.raised,
        },
        pressed && styles.pressed,
        style,
      ]}
      {...AT_ONCE}
      {...rest}
    >
      <View aria-hidden style={disabled && styles.disabled}>
        <IconShape size={size} color={ink} strokeWidth={1.75} />
      </View>
      {caption && (
        <Words size={12} style={{ color: ink }}>
          {caption}
        </Words>
      )}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  button: {
    minHeight: TOUCH,
    paddingHorizontal: 14,
    borderRadius: RADIUS,
    borderWidth: 1,
    flexDirection: 'row',
    alignItems: 'center',
    justifyContent: 'center',
    gap: 8,
  },
  icon: { minWidth: TOUCH, minHeight: TOUCH, borderRadius: RADIUS, alignItems: 'center', justifyContent: 'center' },
  pressed: { opacity: 0.75 },
  disabled: { opacity: 0.4 },
});
