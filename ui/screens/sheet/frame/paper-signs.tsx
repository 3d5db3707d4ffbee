import { StyleSheet, View } from 'react-native';
import { Button } from '../../../components/button';
import { Words } from '../../../components/text';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { RADIUS } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { HeldCard } from './held-card';

/** What has to be said about the paper as it is shown: that one layer is looked at alone, that ink found no layer. */
export const PaperSigns = () => (
  <>
    <SoloSign />
    <HeldCard />
  </>
);

function SoloSign() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const layer = useAppSelector((s) => s.sheet.stack.find((l) => l.id === s.sheet.looking.solo));
  if (!layer) return null;
  return (
    <View role="status" style={[styles.sign, { backgroundColor: theme.raised, borderColor: theme.accent }]}>
      <Words size={14} numberOfLines={1} style={styles.words}>{`Solo: ${layer.name}`}</Words>
      <Button label="Show all" onPress={() => dispatch(sheetSlice.actions.look({ solo: undefined }))} />
    </View>
  );
}

const styles = StyleSheet.create({
  sign: {
    flexDirection: 'row',
    alignItems: 'center',
    alignSelf: 'center',
    gap: 10,
    maxWidth: 320,
    margin: 8,
    paddingLeft: 12,
    borderWidth: 1,
    borderRadius: RADIUS,
  },
  words: { flexShrink: 1 },
});
