import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import GalleryHorizontal from 'lucide-react-native/icons/panel-right';
import { shownSize } from '../../../../../core/sheet/recipe-placement';
import { sharpest } from '../../../../../core/picture/sharpness';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button, IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { setBeside, setVisible } from '../../../../session/stack-actions';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch } from '../../../../store/store';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { LayerThumb } from '../../stack/layer-thumb';

/** Which picture is worked on; touched, it opens the list of all. */
export function PictureChip({ picture, listing }: { picture: PictureLayer; listing: boolean }) {
  const theme = useTheme();
  const { placing } = useOpenSheet();
  return (
    <Pressable
      role="button"
      aria-expanded={listing}
      aria-label={`Picture: ${picture.name}. ${listing ? 'Close the list' : 'List all pictures'}`}
      onPress={() => placing.listing.set(!listing)}
      style={[styles.chip, { borderColor: listing ? theme.accent : theme.rule, backgroundColor: theme.raised }]}
    >
      <LayerThumb layer={picture} size={34} />
      <View style={listing && styles.turned}>
        <ChevronDown size={18} color={theme.text} />
      </View>
    </Pressable>
  );
}

/** All pictures of the sheet: which one is worked on, which are shown, which lie beside the paper. */
export function PictureList({ pictures, chosen }: { pictures: readonly PictureLayer[]; chosen: string | undefined }) {
  const [sharpness, setSharpness] = useState<ReadonlyMap<string, number>>();
  const shots = shotsOf(pictures);
  return (
    <View style={styles.list}>
      <View role="list" aria-label="Pictures" style={styles.list}>
        {pictures.map((picture) => (
          <PictureRow
            key={picture.id}
            picture={picture}
            isChosen={picture.id === chosen}
            sharpness={sharpness?.get(picture.id)}
          />
        ))}
      </View>
      {shots.length > 1 && <SharpestRow pictures={shots} onMeasured={setSharpness} />}
    </View>
  );
}

/** References of different files: a copy, or lines lifted off one, is no other shot of the page. */
const shotsOf = (pictures: readonly PictureLayer[]): readonly PictureLayer[] =>
  pictures.filter(
    ({ kind, picture }, i) =>
      kind === 'reference' && pictures.findIndex((p) => p.kind === kind && p.picture.hash === picture.hash) === i,
  );

/** Of several shots of one page proposes the sharpest, and says why. */
function SharpestRow({
  pictures,
  onMeasured,
}: {
  pictures: readonly PictureLayer[];
  onMeasured(steepness: ReadonlyMap<string, number>): void;
}) {
  const { session, placing } = useOpenSheet();
  const [state, setState] = useState<'idle' | 'busy' | { found?: { id: string; name: string; factor: number } }>(
    'idle',
  );
  const measure = async () => {
    const { stage } = session;
    if (!stage) return;
    setState('busy');
    const made = pictures.map(({ picture, recipe }) => ({ picture, recipe: recipe ?? [] }));
    const values = await stage.pictureWork.sharpness(made).result.catch(() => undefined);
    if (!values) return setState('idle');
    const most = Math.max(...values);
    // Edges are as steep as the root tells: second differences were squared.
    onMeasured(new Map(pictures.map(({ id }, i) => [id, most > 0 ? Math.sqrt(values[i] / most) : 1])));
    const best = sharpest(values);
    setState({
      found: best && { id: pictures[best.index].id, name: pictures[best.index].name, factor: best.factor },
    });
  };
  const found = typeof state === 'object' ? state.found : undefined;
  return (
    <>
      <Button
        label={state === 'busy' ? 'Measuring' : 'Which shot is the sharpest?'}
        disabled={state === 'busy'}
        onPress={() => void measure()}
      />
      {typeof state === 'object' && (
        <Words size={14} quiet role="status">
          {found
            ? `${found.name}: its edges are ${Number.isFinite(found.factor) ? `${found.factor.toFixed(1)} times as steep as` : 'the only ones beside'} the next one's.`
            : 'None stands out: the difference is too small to see.'}
        </Words>
      )}
      {found && <Button tone="main" label={`Work on ${found.name}`} onPress={() => placing.take(found.id)} />}
    </>
  );
}

function PictureRow({
  picture,
  isChosen,
  sharpness,
}: {
  picture: PictureLayer;
  isChosen: boolean;
  /** Against the sharpest, 0 to 1. */
  sharpness: number | undefined;
}) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const { session, placing } = useOpenSheet();
  const { name, beside, visible } = picture;
  const { width, height } = shownSize(picture);
  const sharp = sharpness === undefined ? '' : ` · sharp ${Math.round(sharpness * 100)} %`;
  const lies = beside ? 'Beside the paper' : `${width} x ${height} px`;
  const about = `${picture.kind === 'lifted' ? 'Lifted, ' : ''}${lies}${sharp}`;
  const take = () => {
    dispatch(sheetSlice.actions.movePicture(null));
    if (!beside) placing.take(picture.id);
  };
  return (
    <View
      role="listitem"
      style={[
        styles.row,
        {
          borderColor: isChosen ? theme.accent : theme.rule,
          backgroundColor: isChosen ? theme.chosen : theme.raised,
        },
      ]}
    >
      <Pressable
        role="button"
        aria-label={`Work on ${name} ${about}`}
        aria-pressed={isChosen}
        style={styles.face}
        onPress={take}
      >
        <LayerThumb layer={picture} size={40} />
        <View style={styles.words}>
          {/* The space keeps the two lines from being read as one word. */}
          <Words numberOfLines={1}>{`${name} `}</Words>
          <Words size={13} quiet>
            {about}
          </Words>
        </View>
      </Pressable>
      {picture.kind === 'reference' && (
        <IconButton
          label={beside ? `Lay ${name} under the ink` : `Lay ${name} beside the paper`}
          icon={GalleryHorizontal}
          chosen={beside === true}
          boxed={false}
          onPress={() => {
            dispatch(sheetSlice.actions.movePicture(null));
            void setBeside(session, picture, !beside);
          }}
        />
      )}
      <IconButton
        label={visible ? `Hide ${name}` : `Show ${name}`}
        icon={visible ? Eye : EyeOff}
        boxed={false}
        onPress={() => void setVisible(session, [picture], !visible)}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  chip: {
    minHeight: TOUCH,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 4,
    paddingHorizontal: 6,
    borderWidth: 1,
    borderRadius: RADIUS,
  },
  turned: { transform: [{ rotate: '180deg' }] },
  list: { gap: 6 },
  row: {
    flexDirection: 'row',
    flexWrap: 'wrap',
    justifyContent: 'flex-end',
    alignItems: 'center',
    borderWidth: 1,
    borderRadius: RADIUS,
    paddingLeft: 8,
  },
  face: {
    flexGrow: 1,
    flexBasis: 150,
    minWidth: 0,
    minHeight: 52,
    flexDirection: 'row',
    alignItems: 'center',
    gap: 10,
  },
  words: { flex: 1, minWidth: 0 },
});
