import { useLocalSearchParams, useRouter, type Href } from 'expo-router';
import { useEffect } from 'react';
import { ScrollView, StyleSheet, View } from 'react-native';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import { IconButton } from '../../../components/button';
import { Heading, Words } from '../../../components/text';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { KEYS } from './key-list';

/** Every key and what it does. */
export function KeysScreen() {
  const theme = useTheme();
  const router = useRouter();
  const { from } = useLocalSearchParams<{ from?: string }>();
  // Only a place of our own: the address may come from anywhere.
  const back = from && /^\/(sheet\/[\w-]+\/[a-z]+)?$/.test(from) ? from : '/';
  useEffect(() => {
    const leave = (e: KeyboardEvent) => e.key === 'Escape' && router.replace(back as Href);
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, [router, back]);
  return (
    <ScrollView contentContainerStyle={styles.page} role="main">
      <View style={styles.head}>
        <IconButton label="Back" icon={ChevronLeft} boxed={false} onPress={() => router.replace(back as Href)} />
        <Heading level={1} size={26}>
          Keys
        </Heading>
      </View>
      {KEYS.map(({ keys, does }) => (
        <View key={does} style={[styles.row, { borderColor: theme.rule }]}>
          <View style={[styles.key, { borderColor: theme.edge, backgroundColor: theme.raised }]}>
            <Words strong>{keys}</Words>
          </View>
          <Words style={styles.does}>{does}</Words>
        </View>
      ))}
    </ScrollView>
  );
}

const styles = StyleSheet.create({
  page: { padding: 16, gap: 4, width: '100%', maxWidth: 640, alignSelf: 'center' },
  head: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingBottom: 8 },
  row: { flexDirection: 'row', alignItems: 'center', gap: 16, paddingVertical: 8, borderBottomWidth: 1 },
  key: {
    minWidth: 130,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingHorizontal: 10,
    paddingVertical: 4,
    alignItems: 'center',
  },
  does: { flexShrink: 1 },
});
