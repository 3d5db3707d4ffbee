import Check from 'lucide-react-native/icons/check';
import X from 'lucide-react-native/icons/x';
import { IconButton } from '../../../../components/button';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { useHatching } from './use-hatching';

/** Keeps or drops the hatching while a pen has folded the columns away. */
export function HatchFloat() {
  const hatching = useHatching();
  const count = useWatched(hatching.guides).length;
  const isFolded = useAppSelector((s) => s.sheet.penNear);
  if (useLayoutKind() === 'phone' || !isFolded || !count) return null;
  return (
    <>
      {count === 2 && <IconButton label="Keep the hatching" icon={Check} chosen onPress={() => hatching.keepNow()} />}
      <IconButton label="Drop the guides" icon={X} onPress={() => hatching.clear()} />
    </>
  );
}
