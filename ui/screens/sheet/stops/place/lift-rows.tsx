import { mostSpecks } from '../../../../../core/picture/recipe-bounds';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import FileText from 'lucide-react-native/icons/file-text';
import LayersPlus from 'lucide-react-native/icons/layers-plus';
import PenTool from 'lucide-react-native/icons/pen-line';
import { stepOf, stepsBefore } from '../../../../../core/picture/recipe-steps';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { Section } from '../../../../components/section';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { keepLifted, LIGHT_REACH } from '../../../../session/lifting';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { useRecipe } from './use-recipe';
import { DraftRow, percentWords } from '../../frame/setting-row';
import { GroundChoice } from '../../stack/stack-panel';
import { CompareButtons } from './compare-row';
import { TintRow } from './tint-row';

/** A page's lines, lifted off its paper. */
export function LiftRows({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  useEffect(() => () => toning.drop(), [toning]);
  const recipe = useRecipe(picture);
  return stepOf(recipe, 'lift')?.on ? <Lifted picture={picture} /> : <NotLifted picture={picture} />;
}

/** What a page is before it is lifted. */
export function NotLifted({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const [busy, setBusy] = useState(false);
  return (
    <>
      <Words quiet>A photographed page becomes lines on clear paper: its light is evened out, its paper goes.</Words>
      <Button
        tone="main"
        icon={FileText}
        label={busy ? 'Looking for its lines' : 'Lift the lines'}
        disabled={busy}
        onPress={() => {
          setBusy(true);
          void toning.lift(picture).finally(() => setBusy(false));
        }}
      />
    </>
  );
}

function Lifted({ picture }: { picture: PictureLayer }) {
  const { session, placing, toning } = useOpenSheet();
  const touch = useWatched(toning.touch);
  const kind = useLayoutKind();
  const recipe = useRecipe(picture);
  const before = JSON.stringify(stepsBefore(recipe, 'lift'));
  useEffect(() => void toning.measure(picture, 'lift'), [toning, picture, before]);
  const { paper, line, keep, specks } = stepOf(recipe, 'lift')!;
  const values = { paper, line, keep, specks };
  const longest = Math.max(picture.picture.width, picture.picture.height);
  const is = (step: 'even' | 'invert') => stepOf(recipe, step)?.on === true;
  return (
    <>
      <View style={styles.line}>
        {(['paper', 'line'] as const).map((what) => (
          <Button
            key={what}
            icon={what === 'paper' ? FileText : PenTool}
            label={what === 'paper' ? 'Touch the paper' : 'Touch a line'}
            chosen={touch === what}
            style={styles.grow}
            onPress={() => toning.ask(touch === what ? undefined : what)}
          />
        ))}
      </View>
      <DraftRow
        label="Faint lines"
        name="How much survives of faint lines"
        words={percentWords}
        value={Math.round(100 * keep)}
        onShow={(v) => toning.show(picture, 'lift', { ...values, keep: v / 100 })}
        onKeep={() => void toning.keep('Faint lines')}
      />
      <DraftRow
        label="Specks"
        name="Specks up to this size are dropped, px"
        words={(v) => `${Math.round(v)} px`}
        value={specks}
        min={0}
        max={mostSpecks(longest)}
        step={1}
        onShow={(v) => toning.show(picture, 'lift', { ...values, specks: v })}
        onKeep={() => void toning.keep('Specks')}
      />
      <View style={styles.line}>
        <CompareButtons picture={picture} />
        {picture.kind === 'reference' && (
          <Button
            icon={LayersPlus}
            label="As a lifted layer"
            style={styles.grow}
            onPress={() => void keepLifted(session, picture).then((id) => placing.take(id))}
          />
        )}
      </View>
      <Words size={14} quiet>
        {picture.kind === 'reference'
          ? 'It is a reference to ink over. As a lifted layer its lines are work, and sent.'
          : 'A lifted layer is work: it is sent, and takes no ink.'}
      </Words>
      {kind !== 'wide' && <GroundChoice />}
      <Section title="Light, tint">
        <Toggle
          label="Light evened out"
          on={is('even')}
          onChange={(on) =>
            void toning.set(
              picture,
              'even',
              on ? { reach: LIGHT_REACH } : undefined,
              on ? 'Even light' : 'Light as it is',
            )
          }
        />
        {is('even') && (
          <DraftRow
            label="Dark parts"
            name="Dark parts up to this wide are drawn, not shadow"
            words={percentWords}
            value={Math.round(100 * (stepOf(recipe, 'even')?.reach ?? LIGHT_REACH))}
            min={2}
            max={40}
            step={1}
            onShow={(v) => toning.show(picture, 'even', { reach: v / 100 })}
            onKeep={() => void toning.keep('Even light')}
          />
        )}
        <Toggle
          label="Light lines on a dark ground"
          on={is('invert')}
          onChange={(on) => void toning.liftAnew(picture, on)}
        />
        <TintRow picture={picture} />
        <Button label="Not lifted" onPress={() => void toning.unlift(picture)} />
      </Section>
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  grow: { flexGrow: 1 },
});
