import { StyleSheet, View } from 'react-native';
import { Button } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { usePouring } from './use-pouring';

/** Small shapes that were left without colour: shown on the paper, and filled from beside. */
export function UnfilledRow() {
  const pouring = usePouring();
  const count = useWatched(pouring.unfilled)?.length ?? 0;
  const isShown = useWatched(pouring.showing);
  const kind = useLayoutKind();
  if (!count) return null;
  return (
    <View style={[styles.line, kind !== 'phone' && styles.wraps]}>
      <Words size={14} quiet style={[styles.words, kind !== 'phone' && styles.whole]} numberOfLines={2}>
        {`${count} small ${count === 1 ? 'shape' : 'shapes'} unfilled`}
      </Words>
      <Button
        label="Show"
        aria-label="Show the unfilled shapes on the paper"
        chosen={isShown}
        onPress={() => pouring.showing.set(!isShown)}
      />
      <Button
        label={count === 1 ? 'Fill it' : 'Fill all'}
        aria-label={count === 1 ? 'Fill it with the colour beside it' : 'Fill all with the colour beside them'}
        onPress={() => void pouring.fillAll()}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  wraps: { flexWrap: 'wrap' },
  words: { flex: 1, minWidth: 0 },
  whole: { flexBasis: '100%' },
});
