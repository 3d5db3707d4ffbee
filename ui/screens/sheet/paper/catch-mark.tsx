import { type Ref } from 'react';
import { StyleSheet, View } from 'react-native';
import { ON_PAPER, ON_PAPER_EDGE } from '../../../theme/theme';

const SIZE = 16;

/** Marks where the line under the nib would meet another one; {@link showCatch} moves it. */
export function CatchMark({ ref }: { ref: Ref<View> }) {
  return <View ref={ref} aria-hidden testID="catch" style={styles.mark} />;
}

/** @param at CSS px on the paper; undefined takes the mark away. */
export function showCatch(mark: HTMLElement | null, at: readonly [x: number, y: number] | undefined): void {
  if (!mark) return;
  mark.style.display = at ? 'flex' : 'none';
  if (at) mark.style.transform = `translate(${at[0] - SIZE / 2}px, ${at[1] - SIZE / 2}px)`;
}

const styles = StyleSheet.create({
  mark: {
    position: 'absolute',
    left: 0,
    top: 0,
    width: SIZE,
    height: SIZE,
    borderRadius: SIZE / 2,
    borderWidth: 2,
    borderColor: ON_PAPER,
    backgroundColor: ON_PAPER_EDGE,
    display: 'none',
    pointerEvents: 'none',
  },
});
