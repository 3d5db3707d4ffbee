import { useGlobalSearchParams, useRouter } from 'expo-router';
import { Pressable, StyleSheet, View } from 'react-native';
import { PenUnderline } from '../../../components/pen-underline';
import { Words } from '../../../components/text';
import { useTheme } from '../../../theme/theme-context';
import { useStop } from '../stops/stop';
import { STOPS } from '../stops/stops';

export function useGoToStop(): (route: string) => void {
  const router = useRouter();
  const { id } = useGlobalSearchParams<{ id: string }>();
  return (route) => router.replace(`/sheet/${id}/${route}`);
}

/** The order of the work, along the bottom or down the side. */
export function StopsBar({ upright }: { upright: boolean }) {
  const theme = useTheme();
  const current = useStop();
  const go = useGoToStop();
  return (
    <View
      role="tablist"
      aria-label="Stops"
      style={[upright ? styles.column : styles.row, { backgroundColor: theme.page, borderColor: theme.rule }]}
    >
      {STOPS.map((stop) => {
        const { route, name, icon: IconShape } = stop;
        const chosen = stop === current;
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
