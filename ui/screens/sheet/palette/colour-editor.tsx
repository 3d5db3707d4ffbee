import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { hexOfOklch, MOST_CHROMA, oklchOf, shadesOf, typedColour, type Oklch } from '../../../../core/picture/oklch';
import { Field } from '../../../components/field';
import { ColourRow } from '../../../components/colour-row';
import { Words } from '../../../components/text';
import { useTheme } from '../../../theme/theme-context';
import { SettingRow } from '../frame/setting-row';

const SHADES = 3;
const SHADE_STEP = 0.07;

/** The colour in the hand: by lightness, chroma and hue, by its number, or darker and lighter by even steps. */
export function ColourEditor({ colour, onTake }: { colour: string; onTake(colour: string): void }) {
  const theme = useTheme();
  // What the sliders say is finer than the colour: of grey they keep the hue.
  const [given, setGiven] = useState<{ colour: string; lch: Oklch }>();
  const lch = given?.colour === colour ? given.lch : oklchOf(colour);
  const [text, setText] = useState<string>();
  const take = (next: string, by?: Oklch) => {
    setGiven(by && { colour: next, lch: by });
    setText(undefined);
    onTake(next);
  };
  const set = (part: Partial<Oklch>) => {
    const next = { ...lch, ...part };
    take(hexOfOklch(next), next);
  };
  const typed = text === undefined ? undefined : typedColour(text);
  return (
    <View style={styles.rows}>
      <View style={styles.line}>
        <View
          role="img"
          aria-label={`Colour in the hand: ${colour}`}
          style={[styles.colour, { backgroundColor: colour, borderColor: theme.edge }]}
        />
        <Field
          label="Number of the colour"
          style={styles.field}
          value={text ?? colour}
          autoCapitalize="none"
          autoCorrect={false}
          maxLength={9}
          problem={text !== undefined && !typed ? 'Six digits or letters from a to f, as #1f3a5f.' : undefined}
          onChangeText={setText}
          onBlur={() => (typed ? take(typed) : setText(undefined))}
          onSubmitEditing={() => typed && take(typed)}
        />
      </View>
      <ColourRow
        label="Darker and lighter"
        colours={[...new Set(shadesOf(colour, SHADES, SHADE_STEP))]}
        taken={colour}
        wrap
        onTake={(next) => take(next)}
      />
      <SettingRow
        label="Light"
        name="Lightness of the colour, percent"
        value={Math.round(100 * lch.l)}
        min={0}
        max={100}
        shown={`${Math.round(100 * lch.l)} %`}
        onSet={(v) => set({ l: v / 100 })}
      />
      <SettingRow
        label="Chroma"
        name="Chroma of the colour, percent of what screens show"
        value={Math.round((100 * lch.c) / MOST_CHROMA)}
        min={0}
        max={100}
        shown={`${Math.round((100 * lch.c) / MOST_CHROMA)} %`}
        onSet={(v) => set({ c: (v / 100) * MOST_CHROMA })}
      />
      <SettingRow
        label="Hue"
        name="Hue of the colour, degrees"
        value={Math.round(lch.h)}
        min={0}
        max={359}
        shown={`${Math.round(lch.h)}°`}
        onSet={(v) => set({ h: v })}
      />
      {!typed && text !== undefined && (
        <Words size={13} quiet>
          The colour in the hand stays as it was.
        </Words>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  rows: { gap: 8 },
  line: { flexDirection: 'row', alignItems: 'flex-end', gap: 10 },
  colour: { width: 54, height: 54, borderRadius: 6, borderWidth: 1 },
  field: { flex: 1, minWidth: 0 },
});
