import { useId } from 'react';
import { StyleSheet, TextInput, View, type TextInputProps } from 'react-native';
import { FONT, RADIUS, TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

/** Keyboards on a screen for numbers; those with digits alone have no minus on some phones. */
const KEYBOARDS = { whole: 'numeric', decimal: 'decimal', signed: 'text' } as const;

/** The number that was typed, with a point or a comma; NaN where it is none. */
export const typedNumber = (text: string): number => Number(text.trim().replace(',', '.') || NaN);

/** A line of text or a number with its label above, and what is wrong with it below. */
export function Field({
  label,
  problem,
  number,
  style,
  ...rest
}: TextInputProps & { label: string; problem?: string; number?: keyof typeof KEYBOARDS }) {
  const theme = useTheme();
  const labelId = useId();
  return (
    <View style={[styles.field, style]}>
      <Words nativeID={labelId} size={14} quiet>
        {label}
      </Words>
      <TextInput
        aria-labelledby={labelId}
        aria-invalid={problem !== undefined}
        inputMode={number && KEYBOARDS[number]}
        style={[
          styles.input,
          { color: theme.text, backgroundColor: theme.raised, borderColor: problem ? theme.warning : theme.edge },
        ]}
        {...rest}
      />
      {problem && (
        <Words size={14} role="alert" style={{ color: theme.warning }}>
          {problem}
        </Words>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  field: { gap: 4 },
  input: {
    minHeight: TOUCH,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingHorizontal: 12,
    fontFamily: FONT.body,
    fontSize: 16,
    width: '100%',
  },
});
