import { StyleSheet, View } from 'react-native';
import { Tray } from '../../frame/tray';
import { useLayoutKind } from '../../frame/layout-kind';
import { GroundChoice } from '../../stack/stack-panel';
import { WayChips } from './way-chips';

/** The tray of Check: ways of looking, and what is found. */
export function CheckTray() {
  const kind = useLayoutKind();
  return (
    <Tray
      open
      bar={
        <View style={styles.bar}>
          <WayChips />
        </View>
      }
      rest={kind !== 'wide' && <GroundChoice />}
    />
  );
}

const styles = StyleSheet.create({ bar: { gap: 6 } });
