import { useEffect, useRef } from 'react';
import { Pressable, ScrollView, StyleSheet, View } from 'react-native';
import { PEN_KINDS } from '../../../../../core/stroke/pen';
import { Words } from '../../../../components/text';
import { penKey, penSlice, type PenKey } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { RADIUS } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { useLayoutKind } from '../../frame/layout-kind';
import { PEN_NAMES } from './pen-names';
import { StrokeOfPen } from './pen-preview';

const STROKE_PX = 30;

/** The pens to take, each shown as the artist's last stroke made with it; the artist's own after the others. */
export function PenChoice() {
  const isPhone = useLayoutKind() === 'phone';
  const dispatch = useAppDispatch();
  const taken = useAppSelector((s) => penKey(s.pen));
  const own = useAppSelector((s) => s.pen.pens);
  const chips = (
    <>
      {PEN_KINDS.map((kind) => (
        <PenChip
          key={kind}
          of={kind}
          name={PEN_NAMES[kind]}
          isTaken={kind === taken}
          onTake={() => dispatch(penSlice.actions.take(kind))}
        />
      ))}
      {own.map(({ id, name }) => (
        <PenChip
          key={id}
          of={id}
          name={name}
          isTaken={id === taken}
          onTake={() => dispatch(penSlice.actions.takeKept(id))}
        />
      ))}
    </>
  );
  // In one row, where height is dear.
  return isPhone ? (
    <ScrollView horizontal role="radiogroup" aria-label="Pen" contentContainerStyle={styles.row}>
      {chips}
    </ScrollView>
  ) : (
    <View role="radiogroup" aria-label="Pen" style={[styles.row, styles.group]}>
      {chips}
    </View>
  );
}

function PenChip({ of, name, isTaken, onTake }: { of: PenKey; name: string; isTaken: boolean; onTake(): void }) {
  const theme = useTheme();
  const isPhone = useLayoutKind() === 'phone';
  const box = useRef<View>(null);
  useEffect(() => {
    const element = box.current as unknown as HTMLElement | null;
    if (isTaken) element?.scrollIntoView?.({ block: 'nearest', inline: 'nearest' });
  }, [isTaken]);
  return (
    <Pressable
      ref={box}
      role="radio"
      aria-checked={isTaken}
      aria-label={name}
      onPress={onTake}
      style={[
        styles.pen,
        isPhone ? styles.inRow : styles.inGroup,
        {
          borderColor: isTaken ? theme.accent : theme.rule,
          backgroundColor: isTaken ? theme.chosen : theme.raised,
        },
      ]}
    >
      <StrokeOfPen of={of} height={STROKE_PX} colour={theme.text} />
      <Words
        size={13}
        strong={isTaken}
        numberOfLines={1}
        style={[styles.name, { color: isTaken ? theme.accent : theme.text }]}
      >
        {name}
      </Words>
    </Pressable>
  );
}

const styles = StyleSheet.create({
  row: { flexDirection: 'row', gap: 8 },
  group: { flexWrap: 'wrap' },
  pen: {
    minHeight: 62,
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingVertical: 4,
    alignItems: 'center',
    justifyContent: 'space-between',
  },
  inRow: { width: 96 },
  inGroup: { flexBasis: '28%', minWidth: 88, flexGrow: 1 },
  name: { maxWidth: '100%', paddingHorizontal: 4 },
});
