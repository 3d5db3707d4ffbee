import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { withinTurn } from '../../../../../core/geometry/degrees';
import type { Placement, PictureLayer } from '../../../../../core/sheet/entities';
import { shownSize } from '../../../../../core/sheet/recipe-placement';
import { MAX_PICTURE_SCALE } from '../../../../../core/sheet/placement';
import { MM_PER_INCH } from '../../../../../core/sheet/paper';
import { Choice } from '../../../../components/choice';
import { Field, typedNumber } from '../../../../components/field';
import { useOpenSheet } from '../../../../session/session-context';

type Unit = 'px' | 'mm';
type Name = 'across' | 'down' | 'width' | 'height' | 'scale' | 'turn';

const LABELS: Record<Name, string> = {
  across: 'Across',
  down: 'Down',
  width: 'Width',
  height: 'Height',
  scale: 'Scale',
  turn: 'Turn',
};
const NAMES = Object.keys(LABELS) as Name[];
/** The middle of a picture may lie beyond the paper, but not out of reach. */
const FARTHEST_PX = 1e6;

/** Where a picture lies, in numbers that can be typed; width and height keep its shape. */
export function LayNumbers({
  picture: layer,
  disabled,
  onChange,
}: {
  picture: PictureLayer;
  disabled: boolean;
  onChange(part: Partial<Placement>): void;
}) {
  const { placement } = layer;
  const size = shownSize(layer);
  const { ppi } = useOpenSheet().session.paper;
  const [unit, setUnit] = useState<Unit>('px');
  const [typed, setTyped] = useState<{ name: Name; text: string }>();
  const perUnit = unit === 'px' ? 1 : ppi / MM_PER_INCH;
  const values: Record<Name, number> = {
    across: placement.cx / perUnit,
    down: placement.cy / perUnit,
    width: (size.width * placement.scale) / perUnit,
    height: (size.height * placement.scale) / perUnit,
    scale: placement.scale * 100,
    turn: placement.turnDeg,
  };
  const changeOf: Record<Name, (value: number) => Partial<Placement> | undefined> = {
    across: (v) => (Math.abs(v * perUnit) <= FARTHEST_PX ? { cx: v * perUnit } : undefined),
    down: (v) => (Math.abs(v * perUnit) <= FARTHEST_PX ? { cy: v * perUnit } : undefined),
    width: (v) => scaled((v * perUnit) / size.width),
    height: (v) => scaled((v * perUnit) / size.height),
    scale: (v) => scaled(v / 100),
    turn: (v) => (Math.abs(v) <= 3600 ? { turnDeg: withinTurn(v) } : undefined),
  };
  const take = (name: Name) => {
    setTyped(undefined);
    if (typed?.name !== name || typed.text === shown(values[name])) return;
    const change = changeOf[name](typedNumber(typed.text));
    if (change) onChange(change);
  };
  const units = (name: Name) => (name === 'scale' ? '%' : name === 'turn' ? '°' : unit);
  return (
    <View style={styles.numbers}>
      {NAMES.map((name) => {
        const text = typed?.name === name ? typed.text : shown(values[name]);
        const isWrong = typed?.name === name && !changeOf[name](typedNumber(typed.text));
        return (
          <Field
            key={name}
            label={`${LABELS[name]}, ${units(name)}`}
            value={text}
            number={name === 'width' || name === 'height' || name === 'scale' ? 'decimal' : 'signed'}
            editable={!disabled}
            problem={isWrong ? 'Out of range' : undefined}
            style={styles.field}
            onChangeText={(next) => setTyped({ name, text: next })}
            onBlur={() => take(name)}
            onSubmitEditing={() => take(name)}
          />
        );
      })}
      <Choice<Unit>
        label="Units of the numbers"
        options={[
          { value: 'px', label: 'px' },
          { value: 'mm', label: 'mm' },
        ]}
        value={unit}
        onChange={setUnit}
      />
    </View>
  );
}

const scaled = (scale: number): Partial<Placement> | undefined =>
  scale >= 1 / MAX_PICTURE_SCALE && scale <= MAX_PICTURE_SCALE ? { scale } : undefined;

/** To a hundredth, without zeros that say nothing. */
const shown = (value: number): string => String(Math.round(value * 100) / 100);

const styles = StyleSheet.create({
  numbers: { flexDirection: 'row', flexWrap: 'wrap', gap: 8, alignItems: 'flex-end' },
  field: { flexBasis: 76, flexGrow: 1, maxWidth: 180 },
});
