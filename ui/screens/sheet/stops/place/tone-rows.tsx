import { useEffect } from 'react';
import { StyleSheet, View } from 'react-native';
import Moon from 'lucide-react-native/icons/moon';
import Sun from 'lucide-react-native/icons/sun';
import {
  stepOf,
  stepsBefore,
  TONE_PRESETS,
  type ToneKind,
  type TonePreset,
  type ValuesOf,
} from '../../../../../core/picture/recipe-steps';
import { STRAIGHT } from '../../../../../core/picture/tone-curve';
import type { PictureLayer } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { Choice } from '../../../../components/choice';
import { Section } from '../../../../components/section';
import { Toggle } from '../../../../components/toggle';
import { useOpenSheet } from '../../../../session/session-context';
import { useWatched } from '../../../../session/watched';
import { useLayoutKind } from '../../frame/layout-kind';
import { useRecipe } from './use-recipe';
import { DraftRow } from '../../frame/setting-row';
import { CompareButtons } from './compare-row';
import { CurveEditor } from './curve-editor';
import { OwnTonesRows } from './own-tones';
import { PaletteRows } from '../../palette/palette-rows';
import { TintRow } from './tint-row';
import { EdgesRows, ToneStepsRows } from './value-rows';

const PRESETS: { value: TonePreset | 'none'; label: string }[] = [
  { value: 'none', label: 'As it came' },
  { value: 'separate-shadows', label: 'Separate shadows' },
  { value: 'pencil-page', label: 'Pencil page' },
  { value: 'dark-photo', label: 'Dark photo' },
];

/** What the picture's tones become: until the edges stand out. */
export function ToneRows({ picture }: { picture: PictureLayer }) {
  const { toning } = useOpenSheet();
  const touch = useWatched(toning.touch);
  const tones = useWatched(toning.tones.curve);
  const kind = useLayoutKind();
  const recipe = useRecipe(picture);
  const before = JSON.stringify(stepsBefore(recipe, 'curve'));
  useEffect(() => void toning.measure(picture, 'curve'), [toning, picture, before]);
  useEffect(() => () => toning.drop(), [toning]);
  const is = (of: ToneKind) => stepOf(recipe, of)?.on === true;
  const values = (stepOf(recipe, 'steps')?.thresholds.length ?? 0) + 1;
  const notes = { steps: is('steps') ? `${values} values` : undefined };
  const show = <K extends ToneKind>(of: K, values: ValuesOf<K>) => toning.show(picture, of, values);
  const keep = (label: string) => void toning.keep(label);
  return (
    <>
      <View style={styles.line}>
        {(['shadow', 'light'] as const).map((what) => (
          <Button
            key={what}
            icon={what === 'shadow' ? Moon : Sun}
            label={what === 'shadow' ? 'Touch a shadow' : 'Touch a light'}
            chosen={touch === what}
            style={styles.grow}
            onPress={() => toning.ask(touch === what ? undefined : what)}
          />
        ))}
      </View>
      <CurveEditor
        points={stepOf(recipe, 'curve')?.points ?? STRAIGHT}
        tones={tones}
        onShow={(points) => show('curve', { points })}
        onKeep={keep}
        onDrop={() => toning.giveUp()}
      />
      <View style={styles.line}>
        <View style={styles.grow}>
          <Toggle
            label="Grey"
            on={is('grey')}
            onChange={(on) => void toning.set(picture, 'grey', on ? {} : undefined, on ? 'Grey' : 'In colour')}
          />
        </View>
        <CompareButtons picture={picture} />
      </View>
      <Choice
        label="Tones for"
        options={PRESETS}
        value={'' as TonePreset | 'none'}
        onChange={(chosen) =>
          void toning.setAll(
            picture,
            chosen === 'none' ? [] : TONE_PRESETS[chosen],
            PRESETS.find(({ value }) => value === chosen)!.label,
          )
        }
        scrolls={kind === 'phone'}
      />
      <Section title="Your own tones">
        <OwnTonesRows picture={picture} />
      </Section>
      <Section title="Tone steps" note={notes.steps}>
        <ToneStepsRows picture={picture} />
      </Section>
      <Section title="Edges" note={is('edges') ? 'on' : undefined}>
        <EdgesRows picture={picture} />
      </Section>
      <Section title="Palette">
        <PaletteRows picture={picture} />
      </Section>
      <Section title="More">
        <DraftRow
          label="Exposure"
          name="Exposure, stops"
          words={(v) => `${(Math.round(v * 10) / 10 || 0).toFixed(1)} stops`}
          value={stepOf(recipe, 'exposure')?.stops ?? 0}
          min={-4}
          max={4}
          step={0.1}
          onShow={(stops) => show('exposure', { stops })}
          onKeep={(stops) =>
            isSome(stops) ? keep('Exposure') : void toning.set(picture, 'exposure', undefined, 'No exposure')
          }
        />
        <DraftRow
          label="Blur"
          name="Blur, px"
          words={(v) => `${v.toFixed(1)} px`}
          value={stepOf(recipe, 'blur')?.px ?? 0}
          min={0}
          max={20}
          step={0.5}
          onShow={(px) => show('blur', { px })}
          onKeep={(px) => (isSome(px) ? keep('Blur') : void toning.set(picture, 'blur', undefined, 'No blur'))}
        />
        <Toggle
          label="Inverted: light on dark"
          on={is('invert')}
          onChange={(on) => void toning.set(picture, 'invert', on ? {} : undefined, on ? 'Invert' : 'Not inverted')}
        />
        <TintRow picture={picture} />
      </Section>
    </>
  );
}

/** Steps of a slider add up to nearly nothing in its middle; what does nothing is no step. */
const isSome = (value: number): boolean => Math.abs(value) > 0.01;

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 8 },
  grow: { flexGrow: 1 },
});
