import { usePathname, useRouter } from 'expo-router';
import Keyboard from 'lucide-react-native/icons/keyboard';
import { Button } from '../../components/button';
import { Choice } from '../../components/choice';
import { Dialog } from '../../components/dialog';
import { Words } from '../../components/text';
import { Toggle } from '../../components/toggle';
import { settingsSlice, type SettingsState } from '../../store/settings-slice';
import { useAppDispatch, useAppSelector } from '../../store/store';
import { useLayoutKind } from '../sheet/frame/layout-kind';

/** How this device looks and listens. */
export function SettingsDialog({ onClose }: { onClose(): void }) {
  const dispatch = useAppDispatch();
  const router = useRouter();
  const path = usePathname();
  const settings = useAppSelector((s) => s.settings);
  const kind = useLayoutKind();
  const set = (part: Partial<SettingsState>) => dispatch(settingsSlice.actions.set(part));
  return (
    <Dialog title="Settings" onClose={onClose}>
      <Words strong>Look</Words>
      <Choice
        label="Look"
        options={[
          { value: 'system', label: 'As the device' },
          { value: 'light', label: 'Light' },
          { value: 'dark', label: 'Dark' },
        ]}
        value={settings.theme}
        onChange={(theme) => set({ theme })}
      />
      <Words strong>I draw with my</Words>
      <Choice
        label="Drawing hand"
        options={[
          { value: 'right', label: 'Right hand' },
          { value: 'left', label: 'Left hand' },
        ]}
        value={settings.hand}
        onChange={(hand) => set({ hand })}
      />
      <Toggle
        label="Fingers move the page once a pen has been used"
        on={settings.fingersMove}
        onChange={(fingersMove) => set({ fingersMove })}
      />
      <Toggle
        label="The nib lies a little above the fingertip"
        on={settings.nibAboveFinger}
        onChange={(nibAboveFinger) => set({ nibAboveFinger })}
      />
      {kind === 'wide' && (
        <Toggle
          label="The columns stay when my pen comes near; otherwise they fold away, and come back at the edge"
          on={settings.columnsStay}
          onChange={(columnsStay) => set({ columnsStay })}
        />
      )}
      <Words strong>With its side button held, my pen</Words>
      <Choice
        label="Side button of the pen"
        options={[
          { value: 'move', label: 'Moves the page' },
          { value: 'erase', label: 'Erases' },
        ]}
        value={settings.sideButton}
        onChange={(sideButton) => set({ sideButton })}
      />
      <Button
        icon={Keyboard}
        label="Keys"
        onPress={() => {
          onClose();
          router.push({ pathname: '/keys', params: { from: path } });
        }}
      />
    </Dialog>
  );
}
