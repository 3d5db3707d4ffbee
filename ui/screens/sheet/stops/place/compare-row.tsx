import { Pressable, StyleSheet, View } from 'react-native';
import SquareSplitHorizontal from 'lucide-react-native/icons/square-split-horizontal';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';

/** Ways to compare a picture with how it came: while held, or side by side at a divider. */
export function CompareButtons({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const divider = useWatched(toning.divider);
  const isParted = divider !== undefined;
  return (
    <View style={styles.line}>
      <BeforeButton />
      <IconButton
        label={isParted ? 'Divider away' : 'Divider: as it came beside as made'}
        icon={SquareSplitHorizontal}
        chosen={isParted}
        onPress={() => toning.part(isParted ? undefined : 0.5, picture)}
      />
    </View>
  );
}

/** Held, it shows the picture as it came. */
function BeforeButton() {
  const theme = useTheme();
  const { toning } = useOpenSheet();
  const held = useWatched(toning.asItCame);
  const look = (on: boolean) => () => toning.lookBefore(on);
  const keys = {
    onKeyDown: (e: { key: string }) => (e.key === ' ' || e.key === 'Enter') && toning.lookBefore(true),
    onKeyUp: look(false),
    onBlur: look(false),
    onContextMenu: (e: { preventDefault(): void }) => e.preventDefault(),
  } as object;
  return (
    <Pressable
      role="button"
      aria-label="Before: hold to see the picture as it came"
      aria-pressed={held}
      onPressIn={look(true)}
      onPressOut={look(false)}
      {...keys}
      style={[
        styles.before,
        { borderColor: held ? theme.accent : theme.rule, backgroundColor: held ? theme.chosen : theme.raised },
      ]}
    >
      <Words strong>Before</Words>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  before: {
    minHeight: TOUCH,
    paddingHorizontal: 16,
    borderWidth: 1,
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
    userSelect: 'none',
    touchAction: 'none',
  } as object,
});
