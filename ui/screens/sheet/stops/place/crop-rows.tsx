import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Crop from 'lucide-react-native/icons/crop';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import Ruler from 'lucide-react-native/icons/ruler';
import ScanSearch from 'lucide-react-native/icons/scan-search';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button, IconButton } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { Slider } from '../../../../components/slider';
import { Words } from '../../../../components/text';
import { CROP_SHAPES, PAGE_SHAPES, type CropDraft, type CropShape, type PageShape } from '../../../../session/cropping';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';

const SHAPE_NAMES: Record<CropShape, string> = {
  free: 'Free',
  paper: 'As the paper',
  '1:1': 'Square',
  '4:3': '4:3',
  '3:2': '3:2',
  '16:9': '16:9',
};
const PAGE_NAMES: Record<PageShape, string> = {
  seen: 'As seen',
  A: 'A4, A5',
  'A lying': 'A4, lying',
  paper: 'As the paper',
};

/** Taking a part of the picture, straight; or a photographed page, squared up by its corners. */
export function CropRows({ picture }: { picture: PictureLayer }) {
  const { cropping, placing } = useOpenSheet();
  const draft = useWatched(cropping.draft);
  useEffect(() => {
    cropping.begin(picture);
    // Another step has changed it: what was begun means what is gone.
  }, [cropping, picture]);
  useEffect(() => () => cropping.drop(), [cropping]);
  if (!draft) return null;
  const hasCrop = (picture.recipe ?? []).some((step) => step.kind === 'crop');
  return (
    <>
      <View style={styles.line}>
        <Button
          tone="main"
          icon={Crop}
          label={draft.mode === 'page' ? 'Square up' : 'Crop to this'}
          style={styles.grow}
          onPress={() => void cropping.keep().then(() => placing.tool.set('lay'))}
        />
        {draft.mode === 'frame' && <Button label="Paper’s edge" onPress={() => cropping.takePaper()} />}
        {hasCrop && (
          <Button label="Take away" onPress={() => void cropping.undoCrop().then(() => placing.tool.set('lay'))} />
        )}
      </View>
      {draft.mode === 'frame' ? <FrameRows draft={draft} /> : <PageRows draft={draft} />}
      <Choice
        label="What is cropped"
        options={[
          { value: 'frame', label: 'A part' },
          { value: 'page', label: 'A page, by its corners' },
        ]}
        value={draft.mode}
        onChange={(mode) => cropping.setMode(mode)}
      />
    </>
  );
}

function FrameRows({ draft: { frame, shape } }: { draft: CropDraft }) {
  const { cropping } = useOpenSheet();
  const levels = useWatched(cropping.levels);
  const kind = useLayoutKind();
  // The dial turns the picture, the frame stays upright.
  const deg = -frame.turnDeg;
  const shown = `${(Math.round(deg * 10) / 10 || 0).toFixed(1)}°`;
  return (
    <>
      <View style={styles.line}>
        <Words size={14}>Straighten</Words>
        <Slider
          label="Straighten, degrees"
          spoken={shown}
          value={Math.max(-45, Math.min(45, deg))}
          min={-45}
          max={45}
          step={0.1}
          onChange={(value) => cropping.setTurn(-value)}
          onDone={() => undefined}
        />
        <Words size={14} style={styles.value}>
          {shown}
        </Words>
        <IconButton
          label="Draw along something level or upright"
          icon={Ruler}
          chosen={levels}
          onPress={() => cropping.levels.set(!levels)}
        />
        <IconButton
          label="Not straightened: 0°"
          icon={RotateCcw}
          disabled={frame.turnDeg === 0}
          onPress={() => cropping.setTurn(0)}
        />
      </View>
      <Choice<CropShape>
        label="Shape of the crop"
        options={CROP_SHAPES.map((value) => ({ value, label: SHAPE_NAMES[value] }))}
        value={shape}
        onChange={(value) => cropping.setShape(value)}
        scrolls={kind === 'phone'}
      />
      <Words size={14} quiet>
        {levels
          ? 'Draw along something that should be level or upright.'
          : `${Math.round(frame.width)} x ${Math.round(frame.height)} px. The original stays as it is.`}
      </Words>
    </>
  );
}

function PageRows({ draft: { pageShape } }: { draft: CropDraft }) {
  const { cropping } = useOpenSheet();
  const [looks, setLooks] = useState(false);
  const kind = useLayoutKind();
  const find = () => {
    setLooks(true);
    void cropping.propose().finally(() => setLooks(false));
  };
  return (
    <>
      <Button
        icon={ScanSearch}
        label={looks ? 'Looking for the page' : 'Find the page'}
        disabled={looks}
        onPress={find}
      />
      <Choice<PageShape>
        label="Shape of the page"
        options={PAGE_SHAPES.map((value) => ({ value, label: PAGE_NAMES[value] }))}
        value={pageShape}
        onChange={(value) => cropping.setPageShape(value)}
        scrolls={kind === 'phone'}
      />
      <Words size={14} quiet>
        Drag each corner to one of the page, or let it be found.
      </Words>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  grow: { flexGrow: 1 },
  value: { minWidth: 52, textAlign: 'right' },
});
