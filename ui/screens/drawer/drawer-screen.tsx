import { useRouter } from 'expo-router';
import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { Pressable, ScrollView, StyleSheet, useWindowDimensions, View } from 'react-native';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import Plus from 'lucide-react-native/icons/plus';
import SlidersHorizontal from 'lucide-react-native/icons/sliders-horizontal';
import type { PictureAnswer } from '../../../contract/answers';
import type { PaperSize } from '../../../core/sheet/paper';
import { Button, IconButton } from '../../components/button';
import { PenUnderline } from '../../components/pen-underline';
import { PictureProgressCard } from '../../components/picture-progress';
import { Heading, Words } from '../../components/text';
import { pickPicture } from '../../session/pick-file';
import { bringPicture } from '../../session/bring-picture';
import { usePictureTask } from '../../session/use-picture-task';
import { sendAllWaiting } from '../../session/send-all-waiting';
import { useActMutation, useSheetsQuery } from '../../store/drawer-api';
import { noticeSlice } from '../../store/notice-slice';
import { useAppDispatch } from '../../store/store';
import { RADIUS, TOUCH } from '../../theme/theme';
import { useTheme } from '../../theme/theme-context';
import { pictureSheetPart, sheetPart } from '../parts';
import { NewSheetDialog } from './new-sheet-dialog';
import { SettingsDialog } from './settings-dialog';
import { SheetCardView } from './sheet-card';

/** Home: every sheet with its small picture, and two ways to begin one. */
export function DrawerScreen() {
  const theme = useTheme();
  const router = useRouter();
  const dispatch = useAppDispatch();
  const { width } = useWindowDimensions();
  const { data: sheets, error, isLoading, refetch } = useSheetsQuery(undefined, { refetchOnMountOrArgChange: true });
  const [act] = useActMutation();
  const [dialog, setDialog] = useState<'new' | 'settings'>();
  const task = usePictureTask();
  const [brought, setBrought] = useState<{ file: File; picture: PictureAnswer }>();

  useEffect(() => {
    void sendAllWaiting().then(({ sent, refused }) => {
      if (sent) void refetch();
      for (const { label, reason } of refused) {
        const text = `"${label}" was not taken: ${reason} It is set aside on this device.`;
        dispatch(noticeSlice.actions.add({ text, tone: 'warning' }));
      }
    });
  }, [refetch, dispatch]);

  // While the drawer is looked at, what a sheet needs is fetched.
  useEffect(() => {
    if (sheets) sheetPart.fetchAhead();
  }, [sheets]);

  const begin = async (name: string, paper: PaperSize) => {
    const sheetId = nanoid();
    const done = await act({ id: nanoid(), kind: 'create', sheetId, name, paper });
    if (done.error) {
      const { message } = done.error as { message?: string };
      dispatch(noticeSlice.actions.add({ text: message ?? 'The sheet could not be made.', tone: 'warning' }));
      return;
    }
    setDialog(undefined);
    router.push(`/sheet/${sheetId}/ink`);
  };
  const beginFrom = async (file: File | undefined) => {
    if (!file) return;
    setDialog(undefined);
    const picture = await task.run((progress, signal) => bringPicture(file, progress, signal));
    if (picture) setBrought({ file, picture });
  };
  const columns = Math.max(2, Math.min(5, Math.floor((width - 32) / 240)));
  const cardWidth = Math.floor((Math.min(width, 1320) - 32 - 16 * (columns - 1)) / columns);
  return (
    <View style={styles.screen} role="main">
      <ScrollView contentContainerStyle={styles.scroll}>
        <View style={styles.head}>
          <View>
            <Heading level={1} size={36}>
              Hush Line
            </Heading>
            <PenUnderline width={148} weight={6} />
          </View>
          <IconButton label="Settings" icon={SlidersHorizontal} boxed={false} onPress={() => setDialog('settings')} />
        </View>
        {error && (
          <View style={styles.problem} role="alert">
            <Words style={{ color: theme.warning }}>
              {(error as { message?: string }).message} The drawer cannot be shown now.
            </Words>
            <Button label="Try again" onPress={() => void refetch()} />
          </View>
        )}
        {isLoading && <Words quiet>Opening the drawer</Words>}
        <View style={styles.grid}>
          {(sheets ?? []).map((card) => (
            <SheetCardView key={card.id} card={card} width={cardWidth} />
          ))}
          {sheets && (
            <Pressable
              role="button"
              aria-label="Blank sheet"
              onPress={() => setDialog('new')}
              style={[styles.blank, { width: cardWidth, borderColor: theme.edge }]}
            >
              <Plus size={28} color={theme.text} strokeWidth={1.5} />
              <Words>Blank sheet</Words>
            </Pressable>
          )}
        </View>
        {sheets?.length === 0 && <Words quiet>The drawer is empty. Start from a picture, or take a blank sheet.</Words>}
      </ScrollView>
      <View style={[styles.foot, { backgroundColor: theme.page, borderColor: theme.rule }]}>
        <View style={styles.footInner}>
          {task.progress ? (
            <PictureProgressCard progress={task.progress} onStop={task.stop} />
          ) : (
            <Button
              tone="main"
              icon={ImagePlus}
              label="Start from a picture"
              style={styles.start}
              onPress={() => void pickPicture().then(beginFrom)}
            />
          )}
        </View>
      </View>
      {dialog === 'new' && (
        <NewSheetDialog
          onClose={() => setDialog(undefined)}
          onMake={begin}
          onPicture={() => void pickPicture().then(beginFrom)}
        />
      )}
      {brought && (
        <pictureSheetPart.Part
          {...brought}
          onClose={() => setBrought(undefined)}
          onMade={(id) => {
            setBrought(undefined);
            router.push(`/sheet/${id}/place`);
          }}
        />
      )}
      {dialog === 'settings' && <SettingsDialog onClose={() => setDialog(undefined)} />}
    </View>
  );
}

const styles = StyleSheet.create({
  screen: { flex: 1 },
  scroll: {
    padding: 16,
    paddingTop: 28,
    paddingBottom: 110,
    gap: 20,
    width: '100%',
    maxWidth: 1320,
    alignSelf: 'center',
  },
  head: { flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center' },
  problem: { gap: 10, alignItems: 'flex-start' },
  grid: { flexDirection: 'row', flexWrap: 'wrap', gap: 16 },
  blank: {
    minHeight: 240,
    borderWidth: 1,
    borderStyle: 'dashed',
    borderRadius: RADIUS,
    alignItems: 'center',
    justifyContent: 'center',
    gap: 8,
  },
  foot: { position: 'absolute', left: 0, right: 0, bottom: 0, padding: 16, borderTopWidth: 1 },
  footInner: { width: '100%', maxWidth: 480, alignSelf: 'center' },
  start: { minHeight: TOUCH + 10 },
});
