import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { Tray } from '../../frame/tray';
import { useBackCloses } from '../../frame/use-back-closes';
import { StackPanel } from '../../stack/stack-panel';
import { TargetChip } from '../../stack/target-chip';
import { ColourDetails } from './colour-details';
import { ColoursInReach } from './colour-row';
import { HatchRow } from './hatch-rows';
import { LabelRow } from './label-row';
import { OpenButton } from './open-button';
import { UnfilledRow } from './unfilled-row';
import { usePouring } from './use-pouring';
import { PickRow } from './pick-row';
import { WayRow } from './way-row';

/** The tray of Colour: where colour lands, how it is laid, the colours; what was left out. */
export function ColourTray() {
  const kind = useLayoutKind();
  const pouring = usePouring();
  const makesLayer = useWatched(pouring.makesLayer);
  const { colour, picking, way } = useAppSelector((s) => s.colouring);
  const [open, setOpen] = useState<'details' | 'stack'>();
  useBackCloses(kind === 'phone' && open !== undefined, () => setOpen(undefined));
  const flip = (what: 'details' | 'stack') => setOpen(open === what ? undefined : what);
  const target = (
    <TargetChip
      expanded={open === 'stack'}
      narrow={kind === 'phone'}
      colour={colour}
      instead={makesLayer ? 'New colour layer' : undefined}
      onPress={() => flip('stack')}
    />
  );
  const asks = way === 'hatch' ? <HatchRow /> : way === 'text' ? <LabelRow /> : <UnfilledRow />;
  const colours = picking ? <PickRow /> : <ColoursInReach />;
  if (kind !== 'phone')
    return (
      <Tray
        open
        bar={
          <>
            {kind === 'side' && target}
            <WayRow />
            {colours}
            {asks}
          </>
        }
        rest={
          <>
            {kind === 'side' && open === 'stack' && <StackPanel />}
            <ColourDetails />
          </>
        }
      />
    );
  return (
    <Tray
      open={open !== undefined}
      bar={
        <>
          <View style={styles.line}>
            {target}
            <WayRow />
          </View>
          <View style={styles.line}>
            <View style={styles.colours}>{colours}</View>
            <OpenButton expanded={open === 'details'} onPress={() => flip('details')} />
          </View>
          {asks}
        </>
      }
      rest={open === 'stack' ? <StackPanel /> : <ColourDetails />}
    />
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  colours: { flex: 1, minWidth: 0 },
});
