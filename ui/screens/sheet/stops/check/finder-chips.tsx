import { StyleSheet, View } from 'react-native';
import { Button } from '../../../../components/button';
import { FINDERS, type Finder } from '../../../../session/checking';
import { useWatched } from '../../../../session/watched';
import { useChecking } from './use-checking';

const NAMES: Record<Finder, string> = { leaks: 'Leaks', thin: 'Thin' };
const ABOUT: Record<Finder, string> = {
  leaks: 'gaps that colour would run through',
  thin: 'lines too thin to be sent',
};

/** What was found, by its kind; one is looked at, or none. */
export function FinderChips() {
  const checking = useChecking();
  const found = useWatched(checking.found);
  const finder = useWatched(checking.finder);
  return (
    <View role="group" aria-label="What was found" style={styles.group}>
      {FINDERS.map((kind) => {
        const count = found?.[kind].length;
        const shown = count === undefined ? '' : ` ${count}`;
        return (
          <Button
            key={kind}
            label={`${NAMES[kind]}${shown}`}
            aria-label={`${NAMES[kind]}${shown}: ${ABOUT[kind]}`}
            chosen={finder === kind}
            style={styles.chip}
            onPress={() => {
              checking.choose(kind);
              if (finder !== kind) checking.goTo(0);
            }}
          />
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  group: { flexDirection: 'row', gap: 8 },
  chip: { flexGrow: 1, flexBasis: 0, paddingHorizontal: 6 },
});
