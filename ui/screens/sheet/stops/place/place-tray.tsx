import { StyleSheet, View } from 'react-native';
import type { ReferenceLayer } from '../../../../../core/sheet/entities';
import { PictureProgressCard } from '../../../../components/picture-progress';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useAppSelector } from '../../../../store/store';
import { Tray } from '../../frame/tray';
import { AddButton, AddButtons } from './add-buttons';
import { CropRows } from './crop-rows';
import { DoneList } from './done-list';
import { GuideRows } from './guide-rows';
import { LayRows } from './lay-rows';
import { ToolChips } from './tool-chips';
import { PictureChip, PictureList } from './picture-list';

/** The tray of Place: bring pictures in, and put them where they should lie. */
export function PlaceTray() {
  const { bringing, placing } = useOpenSheet();
  const progress = useWatched(bringing.progress);
  const listing = useWatched(placing.listing);
  const tool = useWatched(placing.tool);
  const pictures = usePictures();
  const picture = usePicture();
  const any = pictures[0];
  const lists = listing || !picture;
  return (
    <Tray
      open={any !== undefined}
      bar={
        <View style={styles.bar}>
          {progress && <PictureProgressCard progress={progress} onStop={() => bringing.stop()} />}
          <View style={styles.line}>
            {any && <PictureChip picture={picture ?? any} listing={lists} />}
            {lists ? (
              <AddButtons first={!any} />
            ) : (
              <>
                <View style={styles.tools}>
                  <ToolChips />
                </View>
                <AddButton />
              </>
            )}
          </View>
        </View>
      }
      rest={
        !any ? (
          <Words quiet>
            A picture lies under the ink, quiet and safe. Bring a photo, a scan or a sketch: choose it, take it, paste
            it or drop it here.
          </Words>
        ) : lists ? (
          <PictureList pictures={pictures} chosen={picture?.id} />
        ) : (
          <>
            {tool === 'lay' && <LayRows key={picture.id} picture={picture} />}
            {tool === 'crop' && <CropRows picture={picture} />}
            <DoneList picture={picture} />
            {tool === 'lay' && <GuideRows />}
          </>
        )
      }
    />
  );
}

/** The sheet's pictures, topmost first. */
function usePictures(): ReferenceLayer[] {
  const stack = useAppSelector((s) => s.sheet.stack);
  return stack.filter((l): l is ReferenceLayer => l.kind === 'reference').reverse();
}

/** The picture that is worked on: of those on the paper the chosen one, or the topmost. */
function usePicture(): ReferenceLayer | undefined {
  const { placing } = useOpenSheet();
  const wanted = useWatched(placing.picture);
  const laid = usePictures().filter((p) => !p.beside);
  return laid.find((p) => p.id === wanted) ?? laid[0];
}

const styles = StyleSheet.create({
  bar: { gap: 6 },
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  tools: { flex: 1, minWidth: 0 },
});
