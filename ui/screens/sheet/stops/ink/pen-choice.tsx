import { Pressable, StyleSheet, View } from 'react-native';
import { PEN_KINDS } from '../../../../../core/stroke/pen';
import { Words } from '../../../../components/text';
import { penSlice } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { PEN_NAMES } from './pen-names';
import { StrokeOfPen } from './pen-preview';

const STROKE_PX = 30;

/** The pens to take, each shown as the artist's last stroke made with it. */
export function PenChoice() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const taken = useAppSelector((s) => s.pen.kind);
  return (
    <View role="radiogroup" aria-label="Pen" style={styles.group}>
      {PEN_KINDS.map((kind) => {
        const isTaken = kind === taken;
        return (
          <Pressable
            key={kind}
            role="radio"
            aria-checked={isTaken}
            aria-label={PEN_NAMES[kind]}
            onPress={() => dispatch(penSlice.actions.take(kind))}
            style={[
              styles.pen,
              {
                borderColor: isTaken ? theme.accent : theme.rule,
                backgroundColor: isTaken ? theme.chosen : theme.raised,
              },
            ]}
          >
            <StrokeOfPen kind={kind} height={STROKE_PX} colour={theme.text} />
            <Words size={13} strong={isTaken} style={{ color: isTaken ? theme.accent : theme.text }}>
              {PEN_NAMES[kind]}
            </Words>
          </Pressable>
        );
      })}
    </View>
  );
}

const styles = StyleSheet.create({
  group: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  pen: {
    minHeight: 62,
    flexBasis: '28%',
    minWidth: 88,
    flexGrow: 1,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingVertical: 4,
    alignItems: 'center',
    justifyContent: 'space-between',
  },
});
