import { StyleSheet, View } from 'react-native';
import ArrowDownToLine from 'lucide-react-native/icons/arrow-down-to-line';
import CopyPlus from 'lucide-react-native/icons/copy-plus';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import GroupIcon from 'lucide-react-native/icons/group';
import Lock from 'lucide-react-native/icons/lock';
import LockOpen from 'lucide-react-native/icons/lock-open';
import Trash from 'lucide-react-native/icons/trash';
import type { Layer } from '../../../../core/sheet/entities';
import { IconButton } from '../../../components/button';
import { useOpenSheet } from '../../../session/session-context';
import { setLocked, setVisible } from '../../../session/stack-actions';

/** What is done with several layers at once. `onDone`: those that were picked are not there any more as they were. */
export function SeveralBar({ picked, onDone }: { picked: readonly Layer[]; onDone(): void }) {
  const { session, layerActs } = useOpenSheet();
  const ids = picked.map(({ id }) => id);
  const isSeen = picked.length === 0 || picked.some(({ visible }) => visible);
  const isLocked = picked.length > 0 && picked.every(({ locked }) => locked);
  const what = picked.length === 1 ? '1 layer' : `${picked.length} layers`;
  const after = (act: Promise<void>) => void act.then(onDone);
  const none = picked.length === 0;
  return (
    <View style={styles.bar} role="toolbar" aria-label={`What to do with ${what}`}>
      <IconButton
        label={`Group ${what}`}
        caption="Group"
        icon={GroupIcon}
        style={styles.wide}
        disabled={none}
        onPress={() => after(layerActs.group(ids))}
      />
      <IconButton
        label={`Merge ${what}`}
        caption="Merge"
        icon={ArrowDownToLine}
        style={styles.wide}
        disabled={picked.length < 2}
        onPress={() => after(layerActs.merge(ids))}
      />
      <IconButton
        label={`Duplicate ${what}`}
        caption="Duplicate"
        icon={CopyPlus}
        style={styles.wide}
        disabled={none}
        onPress={() => void layerActs.duplicate(ids)}
      />
      <IconButton
        label={`${isSeen ? 'Hide' : 'Show'} ${what}`}
        caption={isSeen ? 'Hide' : 'Show'}
        icon={isSeen ? EyeOff : Eye}
        style={styles.wide}
        disabled={none}
        onPress={() => void setVisible(session, picked, !isSeen)}
      />
      <IconButton
        label={`${isLocked ? 'Unlock' : 'Lock'} ${what}`}
        caption={isLocked ? 'Unlock' : 'Lock'}
        icon={isLocked ? LockOpen : Lock}
        style={styles.wide}
        disabled={none}
        onPress={() => void setLocked(session, picked, !isLocked)}
      />
      <IconButton
        label={none ? 'Delete' : `Delete ${layerActs.goesWith(ids)}`}
        caption="Delete"
        icon={Trash}
        style={styles.wide}
        disabled={none}
        onPress={() => after(layerActs.delete(ids))}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  wide: { minWidth: 57, flexGrow: 1 },
});
