import { createContext, use, useCallback, useMemo, useRef, type ReactNode, type RefObject } from 'react';
import { StyleSheet, View, type LayoutChangeEvent } from 'react-native';

/** Where the bars below the paper lie on a phone, CSS px of the window. */
interface FootBox {
  /** The upper edge of what stays when a tray opens, and the lower edge of all. */
  span(): { top: number; bottom: number } | undefined;
  top: RefObject<View | null>;
}

const FootContext = createContext<FootBox | undefined>(undefined);

const rectOf = (view: View | null): DOMRect | undefined =>
  (view as unknown as HTMLElement | null)?.getBoundingClientRect();

/** The bars below the paper, whose place a tray asks for before it opens over the paper. */
export function Foot({ onLayout, children }: { onLayout: (e: LayoutChangeEvent) => void; children: ReactNode }) {
  const foot = useRef<View>(null);
  const top = useRef<View>(null);
  const span = useCallback(() => {
    const [all, first] = [rectOf(foot.current), rectOf(top.current)];
    return all && { top: first?.top ?? all.top, bottom: all.bottom };
  }, []);
  const box = useMemo(() => ({ span, top }), [span]);
  return (
    <FootContext value={box}>
      <View ref={foot} style={styles.foot} onLayout={onLayout}>
        {children}
      </View>
    </FootContext>
  );
}

/** The first bar that stays above an opened tray. */
export function FootTop({ children }: { children: ReactNode }) {
  return <View ref={use(FootContext)?.top}>{children}</View>;
}

export const useFootBox = (): FootBox | undefined => use(FootContext);

const styles = StyleSheet.create({ foot: { pointerEvents: 'box-none' } });
