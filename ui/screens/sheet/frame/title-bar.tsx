import { useRouter } from 'expo-router';
import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import SlidersHorizontal from 'lucide-react-native/icons/sliders-horizontal';
import { useSafeAreaInsets } from 'react-native-safe-area-context';
import { IconButton } from '../../../components/button';
import { Heading } from '../../../components/text';
import type { SyncState } from '../../../session/sender';
import { useAppSelector } from '../../../store/store';
import { TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { SettingsDialog } from '../../drawer/settings-dialog';
import { useStop } from '../stops/stop';
import { SheetDialog } from './sheet-dialog';
import { StateSign } from './state-sign';

/** Back to the drawer, the sheet's name, and whether everything is kept. */
export function TitleBar() {
  const theme = useTheme();
  const router = useRouter();
  const name = useAppSelector((s) => s.sheet.card?.name ?? '');
  const [settings, setSettings] = useState(false);
  const [about, setAbout] = useState(false);
  const safe = useSafeAreaInsets();
  const shape = {
    minHeight: 55 + safe.top,
    paddingTop: safe.top,
    backgroundColor: theme.page,
    borderColor: theme.rule,
  };
  return (
    <View role="banner" style={[styles.bar, shape]}>
      <IconButton label="Back to the drawer" icon={ChevronLeft} boxed={false} onPress={() => router.replace('/')} />
      <Pressable role="button" aria-label={`This sheet: ${name}`} style={styles.name} onPress={() => setAbout(true)}>
        <Heading level={1} size={19} numberOfLines={1}>
          {name}
        </Heading>
      </Pressable>
      <StatusSign />
      <IconButton label="Settings" icon={SlidersHorizontal} boxed={false} onPress={() => setSettings(true)} />
      {about && <SheetDialog onClose={() => setAbout(false)} />}
      {settings && <SettingsDialog onClose={() => setSettings(false)} />}
    </View>
  );
}

/** Whether all is kept; where it is, what the stop has to say. */
export function StatusSign() {
  const { Status } = useStop();
  const isSaved = useAppSelector((s) => s.sheet.sync.kind === 'saved');
  if (!Status || !isSaved) return <SyncSign />;
  return (
    <Status>
      <SyncSign />
    </Status>
  );
}

/** Saved, Saving, or Kept on this device. */
function SyncSign() {
  const sync = useAppSelector((s) => s.sheet.sync);
  const dot = sync.kind === 'saved' ? 'all' : sync.kind === 'waiting' ? 'warning' : 'some';
  return <StateSign dot={dot} words={syncWords(sync)} />;
}

export function syncWords(sync: SyncState): string {
  if (sync.kind === 'saved') return 'Saved';
  if (sync.kind === 'saving') return 'Saving';
  const steps = `${sync.steps}\u00a0${sync.steps === 1 ? 'step' : 'steps'}\u00a0waiting`;
  if (!sync.kept) return `Not kept yet (${steps}); keep this page open`;
  // Without a secure context nothing but this page will send them.
  return `Kept on this device (${steps})${window.isSecureContext ? '' : '; keep this page open'}`;
}

const styles = StyleSheet.create({
  bar: {
    position: 'absolute',
    left: 0,
    right: 0,
    top: 0,
    flexDirection: 'row',
    alignItems: 'center',
    borderBottomWidth: 1,
    paddingHorizontal: 4,
    gap: 4,
  },
  name: { flex: 1, minHeight: TOUCH, justifyContent: 'center' },
});
