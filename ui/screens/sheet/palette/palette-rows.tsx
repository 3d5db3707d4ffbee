import { nanoid } from 'nanoid';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { FEWEST_COLOURS, MOST_COLOURS } from '../../../../core/picture/palette';
import { asCropped } from '../../../../core/picture/recipe-steps';
import { MOST_SWATCHES, type PictureLayer } from '../../../../core/sheet/entities';
import { Button } from '../../../components/button';
import { ColourRow } from '../../../components/colour-row';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { addSwatches } from '../../../session/stack-actions';
import { useAppSelector } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import { DraftRow } from '../frame/setting-row';

const FIRST = 6;
const LABEL = 'Colours of the picture, dark first';

/** The picture's own colours, however it is toned, for the sheet's swatches; and for the hand, where that takes them. */
export function PaletteRows({
  picture,
  taken,
  onTake,
}: {
  picture: PictureLayer;
  /** The colour in the hand. */
  taken?: string;
  onTake?(colour: string): void;
}) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const [count, setCount] = useState(FIRST);
  const [found, setFound] = useState<{ of: string; colours: readonly string[] }>();
  const swatches = useAppSelector((s) => s.sheet.settings?.swatches) ?? [];
  const recipe = asCropped(picture.recipe);
  const key = JSON.stringify([picture.picture.hash, recipe, count]);
  useEffect(() => {
    const [, of, many] = JSON.parse(key) as [string, typeof recipe, number];
    const task = session.stage?.pictureWork.palette({ picture: picture.picture, recipe: of }, many);
    task?.result.then(
      (colours) => colours && setFound({ of: key, colours }),
      () => setFound({ of: key, colours: [] }),
    );
    return () => task?.stop();
  }, [session, picture.picture, key]);
  const colours = found?.colours ?? [];
  const isFresh = found?.of === key;
  const known = new Set(swatches.map(({ colour }) => colour));
  const fresh = colours.filter((colour) => !known.has(colour));
  const fits = swatches.length + fresh.length <= MOST_SWATCHES;
  return (
    <>
      <DraftRow
        label="Colours"
        name="How many colours"
        words={(v) => String(v)}
        value={count}
        min={FEWEST_COLOURS}
        max={MOST_COLOURS}
        step={1}
        onShow={() => undefined}
        onKeep={setCount}
      />
      {onTake ? (
        <View aria-busy={!isFresh} style={styles.room}>
          <ColourRow label={LABEL} colours={colours} taken={taken} wrap onTake={onTake} />
        </View>
      ) : (
        <View role="list" aria-label={LABEL} aria-busy={!isFresh} style={[styles.colours, styles.room]}>
          {colours.map((colour) => (
            <View
              key={colour}
              role="listitem"
              aria-label={colour}
              style={[styles.colour, { backgroundColor: colour, borderColor: theme.edge }]}
            />
          ))}
        </View>
      )}
      {isFresh && colours.length < count && (
        <Words size={14} quiet>
          {colours.length
            ? `It has no more than these ${colours.length}.`
            : 'Its colours could not be read. Try again.'}
        </Words>
      )}
      <Button
        label={
          !fits ? `${MOST_SWATCHES} swatches are all there is room for` : fresh.length || !colours.length ? 'Into the sheet’s swatches' : 'All are among the sheet’s swatches' // prettier-ignore
        }
        disabled={!fits || !fresh.length || !isFresh}
        onPress={() =>
          void addSwatches(
            session,
            fresh.map((colour) => ({ id: nanoid(), colour })),
          )
        }
      />
    </>
  );
}

const styles = StyleSheet.create({
  colours: { flexDirection: 'row', flexWrap: 'wrap', gap: 4 },
  room: { minHeight: 36 },
  colour: { width: 40, height: 40, borderRadius: 4, borderWidth: 1 },
});
