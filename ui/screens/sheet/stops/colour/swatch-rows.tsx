import { nanoid } from 'nanoid';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { byHue } from '../../../../../core/picture/oklch';
import { MOST_SWATCHES, type Swatch } from '../../../../../core/sheet/entities';
import { Button } from '../../../../components/button';
import { Chip } from '../../../../components/chip';
import { INK_NAMES } from '../../../../components/colour-row';
import { NameDialog } from '../../../../components/name-dialog';
import { Words } from '../../../../components/text';
import { useOpenSheet } from '../../../../session/session-context';
import { addSwatches, setSwatches } from '../../../../session/stack-actions';
import { colouringSlice } from '../../../../store/colouring-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useTheme } from '../../../../theme/theme-context';

const wordsOf = ({ colour, name }: Swatch): string => name ?? INK_NAMES[colour] ?? colour;

/** The sheet's swatches: taken, named, sorted and removed; the colour in the hand becomes one. */
export function SwatchRows() {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const { session } = useOpenSheet();
  const colour = useAppSelector((s) => s.colouring.colour);
  const swatches = useAppSelector((s) => s.sheet.settings?.swatches) ?? [];
  const [naming, setNaming] = useState(false);
  const taken = swatches.find((s) => s.colour === colour);
  const isFull = swatches.length >= MOST_SWATCHES;
  const keep = (list: readonly Swatch[], label: string) => void setSwatches(session, list, label);
  const move = (by: number) => {
    const at = swatches.indexOf(taken!);
    const list = [...swatches];
    list.splice(at + by, 0, ...list.splice(at, 1));
    keep(list, 'Move a swatch');
  };
  const at = taken ? swatches.indexOf(taken) : -1;
  return (
    <>
      <View role="radiogroup" aria-label="Swatches" style={styles.line}>
        {swatches.map((swatch) => (
          <Chip
            key={swatch.id}
            label={wordsOf(swatch)}
            taken={swatch === taken}
            onTake={() => dispatch(colouringSlice.actions.set({ colour: swatch.colour, picking: null }))}
          >
            <View style={[styles.swatch, { backgroundColor: swatch.colour, borderColor: theme.edge }]} />
          </Chip>
        ))}
        {!swatches.length && (
          <Words size={14} quiet>
            None yet. The colour in the hand is kept with the sheet, or those of a picture are taken above, and on
            Place.
          </Words>
        )}
      </View>
      {taken && <Words size={14}>{wordsOf(taken)}</Words>}
      <View style={styles.line}>
        {!taken && (
          <Button
            label={isFull ? `${MOST_SWATCHES} swatches are all there is room for` : 'Keep this colour'}
            disabled={isFull}
            onPress={() => void addSwatches(session, [{ id: nanoid(), colour }])}
          />
        )}
        {taken && <Button label="Name it" onPress={() => setNaming(true)} />}
        {taken && <Button label="Before" disabled={at === 0} onPress={() => move(-1)} />}
        {taken && <Button label="After" disabled={at === swatches.length - 1} onPress={() => move(1)} />}
        {taken && (
          <Button
            label="Remove"
            onPress={() =>
              keep(
                swatches.filter((s) => s !== taken),
                'Remove a swatch',
              )
            }
          />
        )}
        {swatches.length > 1 && (
          <Button
            label="Sort by hue"
            onPress={() =>
              keep(
                [...swatches].sort((a, b) => byHue(a.colour, b.colour)),
                'Sort the swatches',
              )
            }
          />
        )}
      </View>
      {naming && taken && (
        <NameDialog
          title="Name of the swatch"
          first={wordsOf(taken)}
          problem="A swatch needs a name."
          onName={(name) =>
            keep(
              swatches.map((s) => (s === taken ? { ...s, name } : s)),
              `Name ${name}`,
            )
          }
          onClose={() => setNaming(false)}
        />
      )}
    </>
  );
}

const styles = StyleSheet.create({
  line: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: 6 },
  swatch: { width: 26, height: 26, borderRadius: 4, borderWidth: 1 },
});
