import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import Check from 'lucide-react-native/icons/check';
import Lasso from 'lucide-react-native/icons/lasso';
import { stepOf } from '../../../../../core/picture/recipe-steps';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { ProgressCard } from '../../../../components/picture-progress';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { traceUnit, type TraceDials, type TraceLook } from '../../../../session/tracing';
import { useWatched } from '../../../../session/watched';
import { DraftRow } from '../../frame/setting-row';
import { NotLifted } from './lift-rows';
import { useTracing } from './use-tracing';

const px = (v: number) => `${(Math.round(2 * v) / 2).toFixed(1)} px`;

/** Up to `most`, px of a page of 2,000 px; more of a larger one. Live: only simplified anew, it is quick. */
const DIALS = [
  { dial: 'nearPx', label: 'Simplify', name: 'Simplify: how far a line may lie off, px', min: 0.5, step: 0.5, most: 6, isLive: true },
  { dial: 'specksPx', label: 'Specks', name: 'Specks up to this size are no lines, px', min: 0, step: 1, most: 30, isLive: false },
  { dial: 'gapPx', label: 'Gaps', name: 'Broken lines are joined over this much, px', min: 0, step: 1, most: 40, isLive: false },
] as const; // prettier-ignore

/** A lifted page as strokes: looked at over the page, kept when they are right. */
export function TraceRows({ picture }: { picture: PictureLayer }) {
  return stepOf(picture.recipe ?? [], 'lift')?.on ? <Traced picture={picture} /> : <NotLifted picture={picture} />;
}

function Traced({ picture }: { picture: PictureLayer }) {
  const { placing } = useOpenSheet();
  const tracing = useTracing();
  const dials = useWatched(tracing.dials);
  const look = useWatched(tracing.look);
  const busy = useWatched(tracing.busy);
  const progress = useWatched(tracing.progress);
  const looping = useWatched(tracing.looping);
  useEffect(() => tracing.begin(picture), [tracing, picture]);
  useEffect(() => () => tracing.drop(), [tracing]);
  if (!dials) return null;
  const turn = (change: Partial<TraceDials>) => tracing.turn(picture, change);
  const unit = traceUnit(picture);
  const count = look ? countOf(look, dials) : 0;
  return (
    <>
      <Words role="status" size={15}>
        {look ? described(look, dials) : 'Looking for lines.'}
      </Words>
      {progress !== undefined && (
        <ProgressCard text={`Tracing, ${Math.round(progress * 100)} %`} part={progress} onStop={() => tracing.stop()} />
      )}
      <Button
        tone="main"
        icon={Check}
        label="Keep these lines"
        disabled={busy || count === 0}
        onPress={() => void tracing.keep(picture).then((kept) => kept && placing.tool.set('lay'))}
      />
      {DIALS.map(({ dial, label, name, min, step, most, isLive }) => (
        <DraftRow
          key={dial}
          label={label}
          name={name}
          words={px}
          value={dials[dial]}
          min={min}
          max={Math.max(most, most * unit)}
          step={step}
          onShow={(v) => isLive && turn({ [dial]: v })}
          onKeep={(v) => turn({ [dial]: v })}
        />
      ))}
      {look !== undefined && look.page.patches.length > 0 && (
        <Toggle
          label={`Keep ${counted(look.page.patches.length, 'solid patch as a filled shape', 'solid patches as filled shapes')}`}
          on={dials.fillsPatches}
          onChange={(fillsPatches) => turn({ fillsPatches })}
        />
      )}
      <View style={styles.line}>
        <Button
          icon={Lasso}
          label={looping ? 'Draw around it now' : 'Only a part: draw around it'}
          chosen={looping}
          style={styles.grow}
          onPress={() => tracing.looping.set(!looping)}
        />
        {dials.loop && <Button label="All of the page" onPress={() => turn({ loop: undefined })} />}
      </View>
    </>
  );
}

const counted = (n: number, one: string, many: string): string => (n === 1 ? `1 ${one}` : `${n} ${many}`);

const countOf = ({ page }: TraceLook, { fillsPatches }: TraceDials): number =>
  page.strokes.length + (fillsPatches ? page.patches.length : 0);

/** What a trace comes to, in words. */
function described(look: TraceLook, dials: TraceDials): string {
  const { page } = look;
  if (!page.strokes.length && !page.patches.length)
    return 'There are no lines here. Lift shows fainter ones; the specks’ size decides what is too small.';
  const specks = page.specks.length / 3;
  return [
    `${counted(countOf(look, dials), 'line', 'lines')}, ${counted(page.nodes.length / 2, 'point', 'points')}, at most ${page.errorPx.toFixed(1)} px off.`,
    specks > 0 ? `${counted(specks, 'speck', 'specks')} dropped (marked).` : '',
  ].join(' ');
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  grow: { flexGrow: 1 },
});
