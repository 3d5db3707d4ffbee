import { useGlobalSearchParams, usePathname, useRouter } from 'expo-router';
import { Pressable, StyleSheet, View } from 'react-native';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import PenLine from 'lucide-react-native/icons/pen-line';
import Send from 'lucide-react-native/icons/send';
import { PenUnderline } from '../../../components/pen-underline';
import type { Icon } from '../../../components/button';
import { Words } from '../../../components/text';
import { useTheme } from '../../../theme/theme-context';

interface Stop {
  route: string;
  name: string;
  icon: Icon;
  key: string;
}

/** The stops that there are, in the order of the work; keys keep their number as others join. */
export const STOPS: readonly Stop[] = [
  { route: 'place', name: 'Place', icon: ImagePlus, key: '1' },
  { route: 'ink', name: 'Ink', icon: PenLine, key: '2' },
  { route: 'send', name: 'Send', icon: Send, key: '6' },
];

export const useStop = (): string => usePathname().split('/').pop() ?? 'ink';

export function useGoToStop(): (route: string) => void {
  const router = useRouter();
  const { id } = useGlobalSearchParams<{ id: string }>();
  return (route) => router.replace(`/sheet/${id}/${route}`);
}

/** The order of the work, along the bottom or down the side. */
export function Stops({ upright }: { upright: boolean }) {
  const theme = useTheme();
  const current = useStop();
  const go = useGoToStop();
  return (
    <View
      role="tablist"
      aria-label="Stops"
      style={[upright ? styles.column : styles.row, { backgroundColor: theme.page, borderColor: theme.rule }]}
    >
      {STOPS.map(({ route, name, icon: IconShape }) => {
        const chosen = route === current;
        const ink = chosen ? theme.accent : theme.quiet;
        return (
          <Pressable key={route} role="tab" aria-selected={chosen} onPress={() => go(route)} style={styles.stop}>
            <View aria-hidden>
              <IconShape size={22} color={ink} strokeWidth={1.75} />
            </View>
            <Words size={13} strong={chosen} style={{ color: ink }}>
              {name}
            </Words>
            <View style={styles.line}>{chosen && <PenUnderline width={36} weight={2.5} accent />}</View>
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', borderTopWidth: 1, justifyContent: 'space-around' },
  column: { width: 76, borderRightWidth: 1, paddingTop: 8, gap: 8 },
  stop: { minWidth: 64, minHeight: 58, alignItems: 'center', justifyContent: 'center', paddingTop: 4 },
  line: { height: 5 },
});
