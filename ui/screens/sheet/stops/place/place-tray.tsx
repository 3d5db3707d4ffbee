import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Camera from 'lucide-react-native/icons/camera';
import FlipHorizontal from 'lucide-react-native/icons/square-centerline-dashed-horizontal';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import Move from 'lucide-react-native/icons/move';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import RotateCw from 'lucide-react-native/icons/rotate-cw';
import ZoomIn from 'lucide-react-native/icons/zoom-in';
import ZoomOut from 'lucide-react-native/icons/zoom-out';
import type { Placement, ReferenceLayer } from '../../../../../core/sheet/entities';
import { Button, IconButton } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { PictureProgressCard } from '../../../../components/picture-progress';
import { Words } from '../../../../components/text';
import { Dialog } from '../../../../components/dialog';
import { pickPicture } from '../../../../session/pick-file';
import { addPicture } from '../../../../session/add-picture';
import { useOpenSheet } from '../../../../session/session-context';
import { fittedPlacement } from '../../../../../core/sheet/placement';
import { hasInk, placePicture, resetPlacement } from '../../../../session/stack-actions';
import { usePictureTask } from '../../../../session/use-picture-task';
import { noticeSlice } from '../../../../store/notice-slice';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { TOUCH } from '../../../../theme/theme';
import { useLayoutKind } from '../../frame/layout-kind';
import { Tray } from '../../frame/tray';

/** The tray of Place: bring a picture, and put it where it should lie. */
export function PlaceTray() {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const stack = useAppSelector((s) => s.sheet.stack);
  const pictures = stack.filter((l): l is ReferenceLayer => l.kind === 'reference').reverse();
  const [wanted, setWanted] = useState<string>();
  const task = usePictureTask();
  const picture = pictures.find((p) => p.id === wanted) ?? pictures[0];

  const add = async (file: File | undefined) => {
    if (!file) return;
    const added = await task.run((progress, signal) => addPicture(session, file, progress, signal));
    if (added && added.frames > 1)
      dispatch(noticeSlice.actions.add({ text: `This picture moves; its first frame of ${added.frames} was placed.` }));
  };
  const bar = task.progress ? (
    <PictureProgressCard progress={task.progress} onStop={task.stop} />
  ) : (
    <View style={styles.line}>
      <Button
        tone={pictures.length ? 'plain' : 'main'}
        icon={ImagePlus}
        label="Add picture"
        style={styles.grow}
        onPress={() => void pickPicture().then(add)}
      />
      <IconButton label="Take a photo" icon={Camera} onPress={() => void pickPicture(true).then(add)} />
    </View>
  );
  return (
    <Tray
      open={picture !== undefined}
      bar={bar}
      rest={
        picture ? (
          <>
            {pictures.length > 1 && (
              <Choice
                label="Picture"
                options={pictures.map((p) => ({ value: p.id, label: p.name }))}
                value={picture.id}
                onChange={(id) => {
                  dispatch(sheetSlice.actions.movePicture(null));
                  setWanted(id);
                }}
              />
            )}
            <PlacementControls picture={picture} />
          </>
        ) : (
          <Words quiet>A picture lies under the ink, quiet and locked. Bring a photo, a scan or a sketch.</Words>
        )
      }
    />
  );
}

function PlacementControls({ picture }: { picture: ReferenceLayer }) {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const moving = useAppSelector((s) => s.sheet.movingPicture === picture.id);
  const kind = useLayoutKind();
  const [asking, setAsking] = useState(false);
  const [withInk, setWithInk] = useState(false);
  const { scale, turnDeg } = picture.placement;

  const start = (ink: boolean) => {
    setWithInk(ink);
    setAsking(false);
    dispatch(sheetSlice.actions.movePicture(picture.id));
    dispatch(sheetSlice.actions.moveWithInk(ink));
  };
  const toggle = () => {
    if (moving) dispatch(sheetSlice.actions.movePicture(null));
    else if (hasInk(session)) setAsking(true);
    else start(false);
  };
  const change = (part: Partial<Placement>) =>
    void placePicture(session, picture, { ...picture.placement, ...part }, withInk);
  const turn = (by: number) => change({ turnDeg: (((turnDeg + by) % 360) + 360) % 360 });
  return (
    <>
      <View style={styles.line}>
        <Button icon={Move} label="Move picture" chosen={moving} style={styles.grow} onPress={toggle} />
        <Button
          label="Reset"
          disabled={!moving}
          style={styles.grow}
          onPress={() => void resetPlacement(session, picture, withInk)}
        />
      </View>
      <View style={[styles.line, kind === 'phone' ? styles.spread : styles.twoRows]}>
        <IconButton label="Smaller" icon={ZoomOut} disabled={!moving} onPress={() => change({ scale: scale / 1.05 })} />
        <IconButton label="Larger" icon={ZoomIn} disabled={!moving} onPress={() => change({ scale: scale * 1.05 })} />
        <IconButton label="Quarter turn left" icon={RotateCcw} disabled={!moving} onPress={() => turn(-90)} />
        <IconButton label="Quarter turn right" icon={RotateCw} disabled={!moving} onPress={() => turn(90)} />
        <IconButton
          label="Mirror"
          icon={FlipHorizontal}
          disabled={!moving}
          chosen={picture.placement.mirrored}
          onPress={() => change({ mirrored: !picture.placement.mirrored })}
        />
      </View>
      <Words size={14} quiet>
        {moving
          ? `Drag moves it; two fingers or the handles scale and turn it. ${Math.round((scale / fittedPlacement(picture.picture, session.paper).scale) * 100)}\u00a0% of the fitted size, ${(Math.round(turnDeg * 10) / 10) % 360}°${withInk ? ', with the ink' : ''}`
          : 'The picture stays where it is until "Move picture" is on.'}
      </Words>
      {asking && (
        <Dialog title="Ink lies over this picture" onClose={() => setAsking(false)}>
          <Words>Should the ink go along when the picture moves?</Words>
          <Button tone="main" label="Move the ink along" onPress={() => start(true)} />
          <Button label="Move the picture alone" onPress={() => start(false)} />
        </Dialog>
      )}
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  spread: { justifyContent: 'space-between' },
  // Three and two: beside the paper five do not fit one row.
  twoRows: { gap: 8, maxWidth: 3 * TOUCH + 2 * 8 },
  grow: { flexGrow: 1 },
});
