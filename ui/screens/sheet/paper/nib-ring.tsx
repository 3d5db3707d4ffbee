import { type Ref } from 'react';
import { StyleSheet, View } from 'react-native';
import { useAppSelector } from '../../../store/store';
import { ON_PAPER } from '../../../theme/theme';

/** The ring that shows the nib's true size under a mouse or a hovering pen; {@link showRing} moves it. */
export function NibRing({ ref }: { ref: Ref<View> }) {
  const crossed = useAppSelector((s) => s.settings.nibAboveFinger);
  const cross = !crossed && styles.away;
  return (
    <View ref={ref} aria-hidden style={styles.ring}>
      <View style={[styles.cross, styles.across, cross]} />
      <View style={[styles.cross, styles.down, cross]} />
    </View>
  );
}

/**
 * Shows the ring at a place, or takes it away. A nib that is larger than the screen leaves a cross alone: its edge is
 * out of sight, and moving so large a ring would cost more than the ink.
 * @param at CSS px on the paper; @param truePx the nib's size on the screen.
 */
export function showRing(
  ring: HTMLElement,
  at: { x: number; y: number } | undefined,
  truePx: number | undefined,
): void {
  if (!at || truePx === undefined) {
    ring.style.display = 'none';
    return;
  }
  const isBeyond = truePx > Math.max(ring.parentElement!.clientWidth, ring.parentElement!.clientHeight);
  const size = isBeyond ? 3 : Math.max(3, truePx);
  for (const line of ring.children) (line as HTMLElement).style.visibility = isBeyond ? 'visible' : '';
  Object.assign(ring.style, {
    display: 'flex',
    width: `${size}px`,
    height: `${size}px`,
    borderRadius: `${size}px`,
    transform: `translate(${at.x - size / 2}px, ${at.y - size / 2}px)`,
  });
}

const styles = StyleSheet.create({
  away: { visibility: 'hidden' } as object,
  cross: { position: 'absolute', backgroundColor: ON_PAPER },
  across: { width: 25, height: 1 },
  down: { width: 1, height: 25 },
  ring: {
    alignItems: 'center',
    justifyContent: 'center',
    overflow: 'visible',
    position: 'absolute',
    left: 0,
    top: 0,
    display: 'none',
    borderWidth: 1,
    borderColor: ON_PAPER,
    outlineWidth: 1,
    outlineStyle: 'solid',
    outlineColor: 'rgba(255, 255, 255, 0.7)',
    pointerEvents: 'none',
  },
});
