import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useWatched } from '../../../../session/watched';
import { Tray } from '../../frame/tray';
import { useLayoutKind } from '../../frame/layout-kind';
import { GroundChoice } from '../../stack/stack-panel';
import { FinderChips } from './finder-chips';
import { FindingRows } from './finding-rows';
import { useChecking } from './use-checking';
import { WayChips } from './way-chips';

/** The tray of Check: ways of looking, and what is found. */
export function CheckTray() {
  const kind = useLayoutKind();
  const finder = useWatched(useChecking().finder);
  const [isOpen, setOpen] = useState(false);
  return (
    <Tray
      open
      bar={
        <View style={styles.bar}>
          <WayChips />
          <FinderChips />
        </View>
      }
      rest={
        <>
          {finder && <FindingRows key={finder} finder={finder} isOpen={isOpen || kind !== 'phone'} onOpen={setOpen} />}
          {kind !== 'wide' && (!finder || isOpen) && <GroundChoice />}
        </>
      }
    />
  );
}

const styles = StyleSheet.create({ bar: { gap: 6 } });
