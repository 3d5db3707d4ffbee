import { StyleSheet, View } from 'react-native';
import { Words } from '../../../components/text';
import { useTheme } from '../../../theme/theme-context';

/** How it stands, in words, after a dot: all is well, some is on its way, or there is something to do. */
export function StateSign({ dot, words }: { dot: 'all' | 'some' | 'warning'; words: string }) {
  const theme = useTheme();
  return (
    <View role="status" style={styles.sign}>
      <View
        style={[
          styles.dot,
          { borderColor: dot === 'warning' ? theme.warning : theme.accent },
          dot === 'all' && { backgroundColor: theme.accent },
        ]}
      />
      <Words size={14} quiet numberOfLines={2} style={styles.words}>
        {words}
      </Words>
    </View>
  );
}

const styles = StyleSheet.create({
  sign: { flexDirection: 'row', alignItems: 'center', gap: 6, maxWidth: 170 },
  dot: { width: 9, height: 9, borderRadius: 5, borderWidth: 2 },
  words: { flexShrink: 1 },
});
