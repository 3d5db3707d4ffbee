import { useId } from 'react';
import { StyleSheet, TextInput, View, type TextInputProps } from 'react-native';
import { FONT, RADIUS, TOUCH } from '../theme/theme';
import { useTheme } from '../theme/theme-context';
import { Words } from './text';

/** A line of text or a number with its label above, and what is wrong with it below. */
export function Field({
  label,
  problem,
  numeric,
  style,
  ...rest
}: TextInputProps & { label: string; problem?: string; numeric?: boolean }) {
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
        inputMode={numeric ? 'numeric' : undefined}
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
