import type { ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import { useAppSelector } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { useStop } from '../stops/stop';
import { Floats } from './floats';
import { Foot, FootTop } from './foot-box';
import type { FootHeights } from './foot-heights';
import { PaperSigns } from './paper-signs';
import { HushRow } from './hush-row';
import { PaperOnlyFloats } from './paper-only';
import { StopsBar } from './stops-bar';
import { TitleBar } from './title-bar';
import { UnfoldChip } from './unfold-chip';

/** A phone held upright: the title above; floats, hush row, tray and stops below. While inking the title folds. */
export function PhoneBars({ feet, children }: { feet: FootHeights; children: ReactNode }) {
  const theme = useTheme();
  const safe = useSafeAreaInsets();
  const stop = useStop();
  const folded = useAppSelector((s) => s.sheet.folded);
  const trayOpen = useAppSelector((s) => s.sheet.trayOpen);
  const paperOnly = useAppSelector((s) => s.sheet.paperOnly) && stop.tool !== undefined;
  if (paperOnly)
    return (
      <View style={styles.bottom}>
        <PaperSigns />
        <PaperOnlyFloats />
        <View style={{ height: safe.bottom }} />
      </View>
    );
  return (
    <>
      {folded ? <UnfoldChip top={safe.top} /> : <TitleBar />}
      <View style={styles.bottom}>
        <PaperSigns />
        <Foot onLayout={(e) => feet.tell(stop, e.nativeEvent.layout.height, trayOpen)}>
          {!trayOpen && <Floats eraser={stop.tool !== undefined} />}
          <FootTop>
            <HushRow kind="phone" />
          </FootTop>
          {children}
          <StopsBar upright={false} />
          <View style={{ height: safe.bottom, backgroundColor: theme.page }} />
        </Foot>
      </View>
    </>
  );
}

const styles = StyleSheet.create({
  bottom: { position: 'absolute', left: 0, right: 0, bottom: 0, pointerEvents: 'box-none' },
});
