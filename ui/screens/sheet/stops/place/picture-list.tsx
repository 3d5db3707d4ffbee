import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import GalleryHorizontal from 'lucide-react-native/icons/panel-right';
import type { ReferenceLayer } from '../../../../../core/sheet/entities';
import { IconButton } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { setBeside, setVisible } from '../../../../session/stack-actions';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch } from '../../../../store/store';
import { RADIUS, TOUCH } from '../../../../theme/theme';
import { useTheme } from '../../../../theme/theme-context';
import { LayerThumb } from '../../stack/layer-thumb';

/** Which picture is worked on; touched, it opens the list of all. */
export function PictureChip({ picture, listing }: { picture: ReferenceLayer; listing: boolean }) {
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
export function PictureList({ pictures, chosen }: { pictures: readonly ReferenceLayer[]; chosen: string | undefined }) {
  return (
    <View role="list" aria-label="Pictures" style={styles.list}>
      {pictures.map((picture) => (
        <PictureRow key={picture.id} picture={picture} isChosen={picture.id === chosen} />
      ))}
    </View>
  );
}

function PictureRow({ picture, isChosen }: { picture: ReferenceLayer; isChosen: boolean }) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const { session, placing } = useOpenSheet();
  const { name, beside, visible } = picture;
  const take = () => {
    dispatch(sheetSlice.actions.movePicture(null));
    placing.picture.set(picture.id);
    if (!beside) placing.listing.set(false);
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
        aria-label={`Work on ${name}`}
        aria-pressed={isChosen}
        style={styles.face}
        onPress={take}
      >
        <LayerThumb layer={picture} size={40} />
        <View style={styles.words}>
          <Words numberOfLines={1}>{name}</Words>
          <Words size={13} quiet>
            {beside ? 'Beside the paper' : `${picture.picture.width} x ${picture.picture.height} px`}
          </Words>
        </View>
      </Pressable>
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
