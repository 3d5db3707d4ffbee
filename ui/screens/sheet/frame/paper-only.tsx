import { StyleSheet, View } from 'react-native';
import Maximize from 'lucide-react-native/icons/maximize-2';
import Minimize from 'lucide-react-native/icons/minimize-2';
import { IconButton } from '../../../components/button';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { EraserButton } from './eraser-button';
import { StepButton } from './step-button';
import { StatusSign } from './title-bar';
import { useBackCloses } from './use-back-closes';

/** Puts all bars of a phone away, or brings them back; the paper stays where it is. */
export function PaperOnlyButton() {
  const dispatch = useAppDispatch();
  const paperOnly = useAppSelector((s) => s.sheet.paperOnly);
  return (
    <IconButton
      label={paperOnly ? 'Bring the bars back' : 'Nothing but the paper'}
      icon={paperOnly ? Minimize : Maximize}
      onPress={() => dispatch(sheetSlice.actions.paperOnly(!paperOnly))}
    />
  );
}

/** What stays when the bars are away. What is not saved is said even here. */
export function PaperOnlyFloats() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const left = useAppSelector((s) => s.settings.hand === 'left');
  const waits = useAppSelector((s) => s.sheet.sync.kind === 'waiting');
  useBackCloses(true, () => dispatch(sheetSlice.actions.paperOnly(false)));
  return (
    <View style={[styles.row, left && styles.mirrored]}>
      <View style={[styles.group, left && styles.mirrored]}>
        <StepButton side="undo" />
        <EraserButton />
      </View>
      {waits && (
        <View style={[styles.sync, { borderColor: theme.rule, backgroundColor: theme.raised }]}>
          <StatusSign />
        </View>
      )}
      <PaperOnlyButton />
    </View>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', justifyContent: 'space-between', padding: 10, gap: 8, pointerEvents: 'box-none' },
  mirrored: { flexDirection: 'row-reverse' },
  group: { flexDirection: 'row', gap: 8, pointerEvents: 'box-none' },
  sync: { flexShrink: 1, justifyContent: 'center', borderWidth: 1, borderRadius: RADIUS, paddingHorizontal: 8 },
});
