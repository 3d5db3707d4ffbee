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
import { IconButton, type Icon } from '../../../components/button';
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
  const buttons: { caption: string; icon: Icon; of?: string; isOff?: boolean; does(): void }[] = [
    { caption: 'Group', icon: GroupIcon, does: () => after(layerActs.group(ids)) },
    { caption: 'Merge', icon: ArrowDownToLine, isOff: picked.length < 2, does: () => after(layerActs.merge(ids)) },
    { caption: 'Duplicate', icon: CopyPlus, does: () => void layerActs.duplicate(ids) },
    {
      caption: isSeen ? 'Hide' : 'Show',
      icon: isSeen ? EyeOff : Eye,
      does: () => void setVisible(session, picked, !isSeen),
    },
    {
      caption: isLocked ? 'Unlock' : 'Lock',
      icon: isLocked ? LockOpen : Lock,
      does: () => void setLocked(session, picked, !isLocked),
    },
    {
      caption: 'Delete',
      icon: Trash,
      of: none ? '' : layerActs.goesWith(ids),
      does: () => after(layerActs.delete(ids)),
    },
  ];
  return (
    <View style={styles.bar} role="toolbar" aria-label={`What to do with ${what}`}>
      {buttons.map(({ caption, icon, of = what, isOff, does }) => (
        <IconButton
          key={caption}
          label={`${caption} ${of}`.trim()}
          caption={caption}
          icon={icon}
          style={styles.wide}
          disabled={none || isOff}
          onPress={does}
        />
      ))}
    </View>
  );
}

const styles = StyleSheet.create({
  bar: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  wide: { minWidth: 57, flexGrow: 1 },
});
