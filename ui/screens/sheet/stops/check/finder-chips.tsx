import { StyleSheet, View } from 'react-native';
import { Button } from '../../../../components/button';
import { FINDERS, type Finder } from '../../../../session/checking';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { useChecking } from './use-checking';

const NAMES: Record<Finder, string> = { missed: 'Missed', off: 'Off', leaks: 'Leaks', thin: 'Thin' };
const ABOUT: Record<Finder, string> = {
  missed: 'edges of the picture without ink',
  off: 'lines that lie off the edge that they follow',
  leaks: 'gaps that colour would run through',
  thin: 'lines too thin to be sent',
};

/** What was found, by its kind; one is looked at, or none. */
export function FinderChips() {
  const checking = useChecking();
  const kind = useLayoutKind();
  useWatched(checking.found);
  const busy = useWatched(checking.busy);
  const finder = useWatched(checking.finder);
  return (
    <View role="group" aria-label="What was found" aria-busy={busy} style={styles.group}>
      {FINDERS.map((one) => {
        const count = checking.count(one);
        const shown = count === undefined ? '' : ` ${count}`;
        return (
          <Button
            key={one}
            label={`${NAMES[one]}${shown}`}
            aria-label={`${NAMES[one]}${shown}: ${ABOUT[one]}`}
            chosen={finder === one}
            style={[styles.chip, kind !== 'phone' && styles.half]}
            onPress={() => {
              checking.choose(one);
              if (finder !== one) checking.goTo(0);
            }}
          />
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  half: { flexBasis: '44%' },
  chip: { flexGrow: 1, flexBasis: 0, paddingHorizontal: 6 },
});
