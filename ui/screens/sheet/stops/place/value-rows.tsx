import { useEffect } from 'react';
import { Words } from '../../../../components/text';
import { FEWEST_VALUES, MOST_VALUES, otsuThresholds } from '../../../../../core/picture/otsu';
import { stepOf, stepsBefore } from '../../../../../core/picture/recipe-steps';
import { histogramOf } from '../../../../../core/picture/tones';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Choice } from '../../../../components/choice';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useRecipe } from './use-recipe';
import { DraftRow, percentWords } from '../../frame/setting-row';
import { ThresholdsEditor } from './thresholds-editor';

const COUNTS = [
  { value: '0', label: 'All' },
  ...Array.from({ length: MOST_VALUES - FEWEST_VALUES + 1 }, (_, k) => ({
    value: String(FEWEST_VALUES + k),
    label: String(FEWEST_VALUES + k),
  })),
];
/** How much of the picture is lost when values lie over it. */
const OVER = 0.5;

/** The picture in few values: thresholds found by themselves, and dragged. */
export function ToneStepsRows({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const tones = useWatched(toning.tones.steps);
  const recipe = useRecipe(picture);
  const before = JSON.stringify(stepsBefore(recipe, 'steps'));
  useEffect(() => void toning.measure(picture, 'steps'), [toning, picture, before]);
  const step = stepOf(recipe, 'steps');
  const now = step?.on ? step : undefined;
  const take = async (count: number) => {
    if (count === 0) return toning.set(picture, 'steps', undefined, 'All values');
    const found = await toning.measure(picture, 'steps');
    if (!found) return;
    const thresholds = otsuThresholds(histogramOf(found), count).map((t) => (t + 0.5) / 255);
    await toning.set(picture, 'steps', { thresholds, amount: now?.amount ?? 1 }, `${count} values`);
  };
  return (
    <>
      <Words size={14}>How many values</Words>
      <Choice
        label="How many values"
        options={COUNTS}
        value={now ? String(now.thresholds.length + 1) : '0'}
        onChange={(count) => void take(Number(count))}
      />
      {now && (
        <>
          <ThresholdsEditor
            thresholds={now.thresholds}
            tones={tones}
            onShow={(thresholds) => toning.show(picture, 'steps', { thresholds, amount: now.amount })}
            onKeep={() => void toning.keep('Threshold')}
            onDrop={() => toning.giveUp()}
          />
          <Toggle
            label="Over the picture, not instead of it"
            on={now.amount < 1}
            onChange={(on) =>
              void toning.set(
                picture,
                'steps',
                { thresholds: now.thresholds, amount: on ? OVER : 1 },
                on ? 'Values over the picture' : 'Values alone',
              )
            }
          />
        </>
      )}
    </>
  );
}

/** A faint map of the edges, to ink from. */
export function EdgesRows({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const recipe = useRecipe(picture);
  const step = stepOf(recipe, 'edges');
  const now = step?.on ? step : undefined;
  const first = { px: Math.max(picture.picture.width, picture.picture.height) / 900, sensitivity: 0.6, amount: 1 };
  const { px, sensitivity, amount } = now ?? first;
  const values = { px, sensitivity, amount };
  return (
    <>
      <Toggle
        label="Edges to ink from"
        on={now !== undefined}
        onChange={(on) => void toning.set(picture, 'edges', on ? values : undefined, on ? 'Edges' : 'No edges')}
      />
      {now && (
        <>
          <DraftRow
            label="Faint ones"
            name="How faint an edge is still found"
            words={percentWords}
            value={Math.round(100 * sensitivity)}
            onShow={(v) => toning.show(picture, 'edges', { ...values, sensitivity: v / 100 })}
            onKeep={() => void toning.keep('Edges')}
          />
          <DraftRow
            label="Smooth"
            name="Finer than this is smoothed over, px"
            words={(v) => `${v.toFixed(1)} px`}
            value={px}
            min={0.5}
            max={20}
            step={0.5}
            onShow={(v) => toning.show(picture, 'edges', { ...values, px: v })}
            onKeep={() => void toning.keep('Edges')}
          />
          <Toggle
            label="Over the picture, not instead of it"
            on={amount < 1}
            onChange={(on) =>
              void toning.set(
                picture,
                'edges',
                { ...values, amount: on ? OVER : 1 },
                on ? 'Edges over the picture' : 'Edges alone',
              )
            }
          />
        </>
      )}
    </>
  );
}
