import { useRouter } from 'expo-router';
import { nanoid } from 'nanoid';
import { useState } from 'react';
import { Image, Pressable, StyleSheet, View } from 'react-native';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import type { SheetCard } from '../../../contract/answers';
import { Button, IconButton } from '../../components/button';
import { Dialog } from '../../components/dialog';
import { Field } from '../../components/field';
import { Heading, Words } from '../../components/text';
import { useActMutation } from '../../store/drawer-api';
import { noticeSlice } from '../../store/notice-slice';
import { keepWay } from '../../store/ways-back';
import { useAppDispatch } from '../../store/store';
import { RADIUS } from '../../theme/theme';
import { overviewAddress } from '../../session/api';
import { useTheme } from '../../theme/theme-context';

/** A sheet in the drawer: its ink, its name, its size; a menu renames, duplicates and deletes it. */
export function SheetCardView({ card, width }: { card: SheetCard; width: number }) {
  const theme = useTheme();
  const router = useRouter();
  const [menu, setMenu] = useState(false);
  const shape = card.heightPx / card.widthPx;
  const pictureHeight = Math.round(width * Math.min(1.3, Math.max(0.7, shape)));
  return (
    <View style={[styles.card, { width, borderColor: theme.rule, backgroundColor: theme.raised }]}>
      <Pressable role="link" onPress={() => router.push(`/sheet/${card.id}/ink`)}>
        <View style={[styles.picture, { height: pictureHeight, backgroundColor: '#FFFFFF' }]}>
          {card.overviewSeq !== null && (
            <Image
              source={{ uri: overviewAddress(card.id, card.overviewSeq) }}
              resizeMode="contain"
              style={styles.image}
              alt=""
            />
          )}
        </View>
        <View style={styles.words}>
          <Heading level={2} size={18} numberOfLines={2} style={styles.name}>
            {card.name}
          </Heading>
          <View style={styles.facts}>
            <Words quiet size={14}>{`${card.widthPx}\u00a0×\u00a0${card.heightPx}`}</Words>
            <Words quiet size={14}>
              {dayOf(card.updatedAt)}
            </Words>
          </View>
        </View>
      </Pressable>
      <IconButton label={`More for ${card.name}`} icon={Ellipsis} style={styles.more} onPress={() => setMenu(true)} />
      {menu && <SheetMenu card={card} onClose={() => setMenu(false)} />}
    </View>
  );
}

function SheetMenu({ card, onClose }: { card: SheetCard; onClose(): void }) {
  const dispatch = useAppDispatch();
  const [act, { isLoading }] = useActMutation();
  const [name, setName] = useState(card.name);
  const problem =
    name.trim() === '' ? 'A sheet needs a name.' : name.length > 120 ? 'A name has at most 120 characters.' : undefined;

  const run = async (body: Parameters<typeof act>[0], after?: () => void) => {
    const done = await act(body);
    if (done.error) {
      const { message } = done.error as { message?: string };
      dispatch(
        noticeSlice.actions.add({ text: `${message ?? 'That did not work.'} Nothing was changed.`, tone: 'warning' }),
      );
      return;
    }
    after?.();
    onClose();
  };
  const remove = () =>
    run({ id: nanoid(), kind: 'delete', sheetId: card.id }, () =>
      dispatch(
        noticeSlice.actions.add({
          text: `"${card.name}" was deleted.`,
          action: {
            label: 'Bring it back',
            does: keepWay(() => void act({ id: nanoid(), kind: 'restore', sheetId: card.id })),
          },
        }),
      ),
    );
  return (
    <Dialog title={card.name} onClose={onClose}>
      <Field label="Name" value={name} onChangeText={setName} problem={problem} />
      <Button
        label="Rename"
        tone="main"
        disabled={problem !== undefined || name === card.name || isLoading}
        onPress={() => void run({ id: nanoid(), kind: 'rename', sheetId: card.id, name: name.trim() })}
      />
      <Button
        label="Duplicate"
        disabled={isLoading}
        onPress={() =>
          void run({
            id: nanoid(),
            kind: 'duplicate',
            sheetId: card.id,
            newId: nanoid(),
            name: `${card.name.slice(0, 110)} copy`,
          })
        }
      />
      <Button label="Delete" disabled={isLoading} onPress={() => void remove()} />
    </Dialog>
  );
}

/** The day in words: today, yesterday, or its date. */
function dayOf(time: number): string {
  const days = Math.round((new Date().setHours(0, 0, 0, 0) - new Date(time).setHours(0, 0, 0, 0)) / 86400000);
  if (days === 0) return 'today';
  if (days === 1) return 'yesterday';
  return new Date(time).toLocaleDateString(undefined, { day: 'numeric', month: 'short', year: 'numeric' });
}

const styles = StyleSheet.create({
  facts: { flexDirection: 'row', flexWrap: 'wrap', columnGap: 10 },
  card: { borderWidth: 1, borderRadius: RADIUS, overflow: 'hidden' },
  picture: { alignItems: 'center', justifyContent: 'center' },
  image: { width: '100%', height: '100%' },
  words: { padding: 12, paddingRight: 52, gap: 2 },
  name: { minHeight: 24 },
  more: { position: 'absolute', right: 6, bottom: 10 },
});
