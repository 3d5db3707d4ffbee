import { StyleSheet, View } from 'react-native';
import { PictureProgressCard } from '../../../../components/picture-progress';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { Tray } from '../../frame/tray';
import { AddButton, AddButtons } from './add-buttons';
import { DoneList } from './done-list';
import { GuideRows } from './guide-rows';
import { LayRows } from './lay-rows';
import { CropRows } from './crop-rows';
import { LiftRows } from './lift-rows';
import { PaperRows } from './paper-rows';
import { ToneRows } from './tone-rows';
import { TraceRows } from './trace-rows';
import { usePicture, usePictures } from './use-pictures';
import { ToolChips } from './tool-chips';
import { PictureChip, PictureList } from './picture-list';

/** The tray of Place: bring pictures in, and put them where they should lie. */
export function PlaceTray() {
  const { bringing, placing } = useOpenSheet();
  const progress = useWatched(bringing.progress);
  const listing = useWatched(placing.listing);
  const tool = useWatched(placing.tool);
  const kind = useLayoutKind();
  const pictures = usePictures();
  const picture = usePicture();
  const any = pictures[0];
  const lists = listing || !picture;
  return (
    <Tray
      open
      bar={
        <View style={styles.bar}>
          {progress && <PictureProgressCard progress={progress} onStop={() => bringing.stop()} />}
          <View style={styles.line}>
            {any && <PictureChip picture={picture ?? any} listing={lists} />}
            {lists ? (
              <AddButtons first={!any} />
            ) : (
              <>
                {/* Beside the paper the tools have no room in this row. */}
                <View style={[styles.tools, kind !== 'phone' && styles.below]}>
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
          <>
            <Words quiet>
              A picture lies under the ink, quiet and safe. Bring a photo, a scan or a sketch: choose it, take it, paste
              it or drop it here.
            </Words>
            <Section title="Paper">
              <PaperRows />
            </Section>
          </>
        ) : lists ? (
          <PictureList pictures={pictures} chosen={picture?.id} />
        ) : (
          <>
            {tool === 'lay' && <LayRows key={picture.id} picture={picture} />}
            {tool === 'crop' && <CropRows picture={picture} />}
            {tool === 'tone' && <ToneRows key={picture.id} picture={picture} />}
            {tool === 'lift' && <LiftRows key={picture.id} picture={picture} />}
            {tool === 'trace' && <TraceRows key={picture.id} picture={picture} />}
            {tool === 'paper' ? <PaperRows /> : <DoneList picture={picture} />}
            {(tool === 'lay' || tool === 'paper') && <GuideRows />}
          </>
        )
      }
    />
  );
}

const styles = StyleSheet.create({
  bar: { gap: 6 },
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  tools: { flex: 1, minWidth: 0 },
  below: { flexBasis: '100%', order: 1 } as object,
});
