import { Pressable, StyleSheet, View } from 'react-native';
import { Words } from '../../../../components/text';
import type { Finding } from '../../../../session/checking';
import { useWatched } from '../../../../session/watched';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { useChecking } from './use-checking';

const MOST_LISTED = 50;

/** All that was found, the worst first; touched, one is gone to. */
export function FindingList({ findings }: { findings: readonly Finding[] }) {
  const theme = useTheme();
  const checking = useChecking();
  const at = useWatched(checking.at);
  const rest = findings.length - MOST_LISTED;
  return (
    <View style={styles.list} role="list" aria-label="All that was found">
      {findings.slice(0, MOST_LISTED).map(({ words }, n) => (
        <View key={n} role="listitem">
          <Pressable
            role="button"
            aria-label={`Go to ${n + 1} ${words}`}
            aria-pressed={n === at}
            onPress={() => checking.goTo(n)}
            style={[styles.row, n === at && { backgroundColor: theme.chosen, borderColor: theme.accent }]}
          >
            <Words strong size={14} style={styles.number}>{`${n + 1} `}</Words>
            <Words size={14} style={styles.words}>
              {words}
            </Words>
          </Pressable>
        </View>
      ))}
      {rest > 0 && <Words size={14} quiet>{`And ${rest} more, smaller ones.`}</Words>}
    </View>
  );
}

const styles = StyleSheet.create({
  list: { gap: 2 },
  row: {
    minHeight: TOUCH,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingHorizontal: 8,
    borderWidth: 1,
    borderColor: 'transparent',
    borderRadius: RADIUS,
  },
  number: { minWidth: 24, textAlign: 'right' },
  words: { flex: 1, minWidth: 0 },
});
