import type { ReactNode } from 'react';
import { Pressable, StyleSheet } from 'react-native';
import { RADIUS, TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';

/** One of a row of things to take (a size, a colour), framed when it is the one in the hand. */
export function Chip({
  label,
  taken,
  onTake,
  children,
}: {
  label: string;
  taken: boolean;
  onTake(): void;
  children: ReactNode;
}) {
  const theme = useTheme();
  return (
    <Pressable
      role="radio"
      aria-checked={taken}
      aria-label={label}
      onPress={onTake}
      style={[
        styles.chip,
        {
          borderColor: taken ? theme.accent : 'transparent',
          backgroundColor: taken ? theme.chosen : 'transparent',
        },
      ]}
    >
      {children}
    </Pressable>
  );
}

const styles = StyleSheet.create({
  chip: {
    width: TOUCH,
    height: 48,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
  },
});
