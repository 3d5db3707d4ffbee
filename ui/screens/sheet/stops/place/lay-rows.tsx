import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import FlipHorizontal from 'lucide-react-native/icons/square-centerline-dashed-horizontal';
import FlipVertical from 'lucide-react-native/icons/square-centerline-dashed-vertical';
import Move from 'lucide-react-native/icons/move';
import RotateCcw from 'lucide-react-native/icons/rotate-ccw';
import RotateCw from 'lucide-react-native/icons/rotate-cw';
import ZoomIn from 'lucide-react-native/icons/zoom-in';
import ZoomOut from 'lucide-react-native/icons/zoom-out';
import { withinTurn } from '../../../../../core/geometry/degrees';
import type { Placement, PictureLayer } from '../../../../../core/sheet/entities';
import { shownSize } from '../../../../../core/sheet/recipe-placement';
import { isLocked } from '../../../../../core/sheet/layer-tree';
import { filledPlacement, fittedPlacement } from '../../../../../core/sheet/placement';
import { Button, IconButton } from '../../../../components/button';
import { Dialog } from '../../../../components/dialog';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { hasInk, placePicture, setLocked } from '../../../../session/stack-actions';
import { sheetSlice } from '../../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { LayNumbers } from './lay-numbers';

const summary = ({ placement: { scale, turnDeg } }: PictureLayer): string =>
  `${Math.round(scale * 1000) / 10}\u00a0% · ${(Math.round(turnDeg * 10) / 10) % 360}°`;

/** One notch of the buttons that scale. */
const NOTCH = 1.05;

/** Where a picture lies: moved, scaled, turned, mirrored, by hand and by numbers. */
export function LayRows({ picture }: { picture: PictureLayer }) {
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const moving = useAppSelector((s) => s.sheet.movingPicture === picture.id);
  const withInk = useAppSelector((s) => s.sheet.moveWithInk);
  const stack = useAppSelector((s) => s.sheet.stack);
  const [asking, setAsking] = useState(false);
  const locked = isLocked(picture, new Map(stack.map((l) => [l.id, l])));

  const start = (ink: boolean) => {
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
  if (locked)
    return (
      <View style={styles.line}>
        <Words quiet style={styles.grow}>{`${picture.name} is locked where it lies.`}</Words>
        {picture.locked ? (
          <Button label="Unlock" onPress={() => void setLocked(session, [picture], false)} />
        ) : (
          <Words quiet>Unlock its group in the stack.</Words>
        )}
      </View>
    );
  return (
    <>
      <View style={styles.line}>
        <Button icon={Move} label="Move picture" chosen={moving} style={styles.grow} onPress={toggle} />
        <Button
          label="Fit"
          disabled={!moving}
          onPress={() => change(fittedPlacement(shownSize(picture), session.paper))}
        />
        <Button
          label="Fill"
          disabled={!moving}
          onPress={() => change(filledPlacement(shownSize(picture), session.paper))}
        />
      </View>
      <TurnButtons placement={picture.placement} disabled={!moving} onChange={change} />
      <Words size={14} quiet>
        {moving
          ? `Drag moves it; two fingers or the handles scale and turn it${withInk ? ', and the ink goes along' : ''}.`
          : 'The picture stays where it is until "Move picture" is on.'}
      </Words>
      <Section title="Numbers" note={summary(picture)}>
        <LayNumbers picture={picture} disabled={!moving} onChange={change} />
      </Section>
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

function TurnButtons({
  placement: { scale, turnDeg, mirrored },
  disabled,
  onChange,
}: {
  placement: Placement;
  disabled: boolean;
  onChange(part: Partial<Placement>): void;
}) {
  const turned = (by: number) => withinTurn(turnDeg + by);
  return (
    <View style={styles.buttons}>
      <IconButton
        label="Smaller"
        icon={ZoomOut}
        disabled={disabled}
        onPress={() => onChange({ scale: scale / NOTCH })}
      />
      <IconButton label="Larger" icon={ZoomIn} disabled={disabled} onPress={() => onChange({ scale: scale * NOTCH })} />
      <IconButton
        label="Quarter turn left"
        icon={RotateCcw}
        disabled={disabled}
        onPress={() => onChange({ turnDeg: turned(-90) })}
      />
      <IconButton
        label="Quarter turn right"
        icon={RotateCw}
        disabled={disabled}
        onPress={() => onChange({ turnDeg: turned(90) })}
      />
      <IconButton
        label="Mirror left to right"
        icon={FlipHorizontal}
        disabled={disabled}
        onPress={() => onChange({ mirrored: !mirrored, turnDeg: turned(-2 * turnDeg) })}
      />
      <IconButton
        label="Mirror top to bottom"
        icon={FlipVertical}
        disabled={disabled}
        onPress={() => onChange({ mirrored: !mirrored, turnDeg: turned(180 - 2 * turnDeg) })}
      />
    </View>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, justifyContent: 'space-between' },
  grow: { flexGrow: 1 },
});
