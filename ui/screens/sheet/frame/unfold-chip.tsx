import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronUp from 'lucide-react-native/icons/chevron-up';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch } from '../../../store/store';
import { RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { StatusSign } from './title-bar';

/** What stays of the title bar (and of the columns) while inking. @param top where it stands; below when left out. */
export function UnfoldChip({ top }: { top?: number }) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const Chevron = top === undefined ? ChevronUp : ChevronDown;
  return (
    <View style={[styles.row, top !== undefined && [styles.above, { top }]]}>
      <Pressable
        role="button"
        aria-label="Show the title bar and the stops"
        onPress={() => dispatch(sheetSlice.actions.unfold())}
        style={[styles.chip, { borderColor: theme.rule, backgroundColor: theme.raised }]}
      >
        <Chevron size={18} color={theme.text} />
        <StatusSign />
      </Pressable>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { alignItems: 'center', paddingVertical: 4, pointerEvents: 'box-none' },
  above: { position: 'absolute', left: 0, right: 0 },
  chip: {
    paddingHorizontal: 10,
    minHeight: TOUCH,
    minWidth: 110,
    flexDirection: 'row',
    gap: 6,
    alignItems: 'center',
    justifyContent: 'center',
    borderWidth: 1,
    borderRadius: RADIUS,
  },
});
