import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { useDrag, type Drag } from './use-drag';
import { TOUCH } from '../theme/theme';

const ARROWS: Record<string, readonly [x: number, y: number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Props {
  /** Its middle in the element around it, CSS px. */
  at: readonly [x: number, y: number];
  /** What it is, and what keys do: it begins with "Drag". */
  label: string;
  drag(ofParent: () => DOMRect): Drag;
  /** An arrow key: one step right and down. */
  onStep(x: number, y: number): void;
  onDelete?(): void;
  children: ReactNode;
}

/** Something small that is dragged, by finger, pen and mouse, and moved by arrow keys; as large as a finger. */
export function DragHandle({ at: [x, y], label, drag, onStep, onDelete, children }: Props) {
  const parent = () => (element.current as unknown as HTMLElement).parentElement!.getBoundingClientRect();
  const element = useDrag(drag(parent));
  const keys = {
    onKeyDown: (e: { key: string; preventDefault(): void; stopPropagation(): void }) => {
      const by = ARROWS[e.key];
      const deletes = onDelete && (e.key === 'Delete' || e.key === 'Backspace');
      if (!by && !deletes) return;
      e.preventDefault();
      e.stopPropagation();
      if (by) onStep(...by);
      else onDelete?.();
    },
  } as object;
  return (
    <View
      ref={element}
      role="button"
      tabIndex={0}
      aria-label={label}
      {...keys}
      style={[styles.touch, { left: x - TOUCH / 2, top: y - TOUCH / 2 }]}
    >
      {children}
    </View>
  );
}

const styles = StyleSheet.create({
  touch: {
    position: 'absolute',
    width: TOUCH,
    height: TOUCH,
    alignItems: 'center',
    justifyContent: 'center',
    touchAction: 'none',
    cursor: 'grab',
    pointerEvents: 'auto',
  } as object,
});
