import { useState } from 'react';
import { lengthInPx, pxToMm } from '../../../../../core/sheet/paper';
import { Button } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { shownInks } from '../../../../../core/sheet/sent-layers';
import { Contouring } from '../../../../session/contouring';
import { useMadeOnce } from '../../../../session/use-made-once';
import { useWatched } from '../../../../session/watched';
import { colouringSlice, type ContourDials } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { SettingRow } from '../../frame/setting-row';
import { usePouring } from './use-pouring';

const MOST_MM = 5;
const ALL = 'all';
const contourings = new WeakMap<object, Contouring>();

/** A thick outer line around a layer, or around all that is inked. */
export function ContourRows() {
  const dispatch = useAppDispatch();
  const { session } = useOpenSheet();
  // The layers that are offered follow the stack.
  useAppSelector((s) => s.sheet.stack);
  const inks = shownInks(session.model);
  const dials = useAppSelector((s) => s.colouring.contour);
  const inkColour = useAppSelector((s) => s.pen.colour);
  const gapPx = useWatched(usePouring().gapPx);
  const [around, setAround] = useState(ALL);
  const contouring = useMadeOnce(contourings, (of, say, warn) => new Contouring(of, say, warn));
  const isBusy = useWatched(contouring.busy);
  const { ppi } = session.paper;
  const set = (change: Partial<ContourDials>) =>
    dispatch(colouringSlice.actions.set({ contour: { ...dials, ...change } }));
  if (!inks.length)
    return (
      <Words size={13} quiet>
        Ink some lines first: a contour goes around them.
      </Words>
    );
  const chosen = inks.some(({ id }) => id === around) ? around : ALL;
  const draw = () => {
    const ids = inks.map(({ id }) => id).filter((id) => chosen === ALL || id === chosen);
    const ways = { widthPx: lengthInPx(dials.widthMm, ppi), uneven: dials.uneven ? UNEVEN : 0, gapPx };
    void contouring.draw(ids, ways, inkColour);
  };
  return (
    <>
      {inks.length > 1 && (
        <Choice
          label="What the contour goes around"
          options={[{ value: ALL, label: 'All lines' }, ...inks.map(({ id, name }) => ({ value: id, label: name }))]}
          value={chosen}
          scrolls
          onChange={setAround}
        />
      )}
      <SettingRow
        label="Width"
        name="Width of the contour, mm"
        value={dials.widthMm}
        min={0.2}
        max={MOST_MM}
        step={0.1}
        shown={`${dials.widthMm.toFixed(1)} mm · ${Math.round(lengthInPx(dials.widthMm, ppi))} px`}
        onSet={(widthMm) => set({ widthMm })}
      />
      <Choice
        label="How thick it is"
        options={[
          { value: 'even', label: 'Even' },
          { value: 'uneven', label: 'Thick below right' },
        ]}
        value={dials.uneven ? 'uneven' : 'even'}
        onChange={(how) => set({ uneven: how === 'uneven' })}
      />
      <Button label={isBusy ? 'Drawing the contour' : 'Draw the contour'} disabled={isBusy} onPress={draw} />
      <Words size={13} quiet>
        {`Around the outside, on a layer of its own beneath the lines. Gaps up to ${gapPx} px (${pxToMm(gapPx, ppi).toFixed(1)} mm) are not gone into.`}
      </Words>
    </>
  );
}

/** How much thicker the shaded side is. */
const UNEVEN = 0.65;
