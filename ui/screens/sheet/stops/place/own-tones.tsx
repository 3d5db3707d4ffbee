import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import PenLine from 'lucide-react-native/icons/pen-line';
import X from 'lucide-react-native/icons/x';
import { toneSetOf, type ToneSet } from '../../../../../core/picture/recipe-steps';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button, IconButton } from '../../../../components/button';
import { NameDialog } from '../../../../components/name-dialog';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { MOST_TONES, ownTones } from '../../../../store/own-tones';
import type { OwnTones } from '../../../../store/tones-file';
import { noticeSlice } from '../../../../store/notice-slice';
import { useAppDispatch } from '../../../../store/store';
import { keepWay } from '../../../../store/ways-back';

/** Tones that the artist keeps for other pictures and sheets. */
export function OwnTonesRows({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const dispatch = useAppDispatch();
  const all = useWatched(ownTones.all);
  const left = useWatched(ownTones.left);
  const [naming, setNaming] = useState<OwnTones | 'new'>();
  const set: ToneSet = toneSetOf(picture.recipe ?? []);
  const isFull = all.length >= MOST_TONES;
  const said = (isKept: boolean) => {
    if (!isKept) dispatch(noticeSlice.actions.add({ text: NOT_KEPT, tone: 'warning' }));
  };
  const remove = (tones: OwnTones) => {
    const at = all.indexOf(tones);
    said(ownTones.remove(tones.id));
    const does = keepWay(() => void ownTones.add(tones, at));
    dispatch(noticeSlice.actions.add({ text: `${tones.name} is deleted.`, action: { label: 'Bring it back', does } }));
  };
  return (
    <>
      {all.map((tones) => (
        <View key={tones.id} style={styles.line}>
          <Button
            label={tones.name}
            style={styles.grow}
            onPress={() => void toning.setAll(picture, tones.set, tones.name)}
          />
          <IconButton label={`Rename ${tones.name}`} icon={PenLine} boxed={false} onPress={() => setNaming(tones)} />
          <IconButton label={`Delete ${tones.name}`} icon={X} boxed={false} onPress={() => remove(tones)} />
        </View>
      ))}
      {left > 0 && (
        <Words size={14} quiet>
          Some of your own tones cannot be read by this version. They stay on this device as they are.
        </Words>
      )}
      {set.length === 0 && (
        <Words size={14} quiet>
          Make the tones as you like them; they can be kept here for other pictures.
        </Words>
      )}
      <Button
        label={isFull ? `${MOST_TONES} are kept, which is all there is room for` : 'Keep these tones'}
        disabled={isFull || set.length === 0}
        onPress={() => setNaming('new')}
      />
      {naming && (
        <NameDialog
          title={naming === 'new' ? 'Keep these tones' : `Rename ${naming.name}`}
          first={naming === 'new' ? 'My tones' : naming.name}
          problem="Tones need a name."
          onName={(name) => said(naming === 'new' ? ownTones.keep(name, set) : ownTones.rename(naming.id, name))}
          onClose={() => setNaming(undefined)}
        />
      )}
    </>
  );
}

const NOT_KEPT = 'This browser keeps nothing for the next visit, so your own tones last only as long as this page.';

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  grow: { flex: 1 },
});
