import type { ReactNode } from 'react';
import { StyleSheet, Text, type TextProps } from 'react-native';
import { FONT } from '../theme/theme';
import { useTheme } from '../theme/theme-context';

interface Props extends TextProps {
  children: ReactNode;
}

/** A heading in the display face. `level` is its place in the page's outline. */
export function Heading({ level = 2, size = 20, style, ...rest }: Props & { level?: 1 | 2 | 3; size?: number }) {
  const theme = useTheme();
  return (
    <Text
      role="heading"
      aria-level={level}
      style={[styles.heading, { color: theme.text, fontSize: size, lineHeight: size * 1.25 }, style]}
      {...rest}
    />
  );
}

/** Plain words; `quiet` for what stands back, `strong` for labels. */
export function Words({
  quiet,
  strong,
  size = 15,
  style,
  ...rest
}: Props & { quiet?: boolean; strong?: boolean; size?: number }) {
  const theme = useTheme();
  return (
    <Text
      style={[
        styles.words,
        { color: quiet ? theme.quiet : theme.text, fontSize: size, lineHeight: size * 1.35 },
        strong && styles.strong,
        style,
      ]}
      {...rest}
    />
  );
}

const styles = StyleSheet.create({
  heading: { fontFamily: FONT.heading },
  words: { fontFamily: FONT.body, fontVariant: ['tabular-nums'] },
  strong: { fontFamily: FONT.strong },
});
