import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { isInkable } from '../../../../../../core/sheet/entities';
import { isLocked } from '../../../../../../core/sheet/layer-tree';
import { pxToMm } from '../../../../../../core/sheet/paper';
import { PEN_KINDS } from '../../../../../../core/stroke/pen';
import { settingsFrom, type Restyle } from '../../../../../../core/stroke/restyle';
import { Button } from '../../../../../components/button';
import { Choice } from '../../../../../components/choice';
import { Field, typedNumber } from '../../../../../components/field';
import { Words } from '../../../../../components/text';
import { sizeOnPaper, type Picking } from '../../../../../session/picking';
import { INK_COLOURS } from '../../../../../store/pen-slice';
import { useAppSelector } from '../../../../../store/store';
import { ColourRow } from '../../../../../components/colour-row';
import { FILL_OPTIONS } from '../form-rows';
import { positionOfSize, sizeAtPosition } from '../../../../../../core/stroke/line-widths';
import { PEN_NAMES } from '../pen-names';
import { LineSettingRows } from '../pen-settings';
import { TypedSize } from '../typed-size';
import { SettingRow } from '../../../frame/setting-row';

/** Everything that made the picked lines, to be changed: shown while it moves, kept when it rests. What they differ in is as the first has it. */
export function RestyleRows({ picking }: { picking: Picking }) {
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  const [draft, setDraft] = useState<{ of: string; how: Restyle }>();
  const { first } = picking;
  if (!first) return null;
  const how = draft?.of === first.id ? draft.how : {};
  const { pen } = first;
  const preview = (change: Restyle) => {
    setDraft({ of: first.id, how: { ...how, ...change, settings: { ...how.settings, ...change.settings } } });
    picking.previewRestyle(change);
  };
  const keep = (change: Restyle, label: string) => {
    setDraft(undefined);
    void picking.restyle(change, label);
  };
  const size = how.sizePx ?? sizeOnPaper(first);
  const settings = { ...settingsFrom(pen), ...how.settings };
  const shownSize = `${Math.round(size * 10) / 10} px · ${pxToMm(size, ppi).toFixed(2)} mm`;
  return (
    <>
      <Choice
        label="Pen of the picked lines"
        options={PEN_KINDS.map((value) => ({ value, label: PEN_NAMES[value] }))}
        value={pen.kind}
        onChange={(kind) => keep({ kind }, `Pen: ${PEN_NAMES[kind]}`)}
      />
      <ColourRow
        label="Colour of the picked lines"
        colours={INK_COLOURS}
        wrap
        onTake={(one) => void picking.recolour(one)}
        taken={first.colour}
      />
      <Choice
        label="Line or fill of the picked lines"
        options={FILL_OPTIONS}
        value={pen.fill ?? 'none'}
        onChange={(fill) => keep({ fill }, 'Line or fill')}
      />
      <SettingRow
        label="Size"
        name="Size of the picked lines"
        value={positionOfSize(size)}
        shown={shownSize}
        onSet={(v) => keep({ sizePx: sizeAtPosition(v) }, 'Size')}
        onPreview={(v) => preview({ sizePx: sizeAtPosition(v) })}
      />
      <TypedSize
        key={first.id}
        label="Size of the picked lines, px"
        px={sizeOnPaper(first)}
        onSet={(sizePx) => keep({ sizePx }, 'Size')}
      />
      <LineSettingRows
        kind={pen.kind}
        steady={how.steady ?? pen.steady}
        onSteady={(steady) => keep({ steady }, 'Steady')}
        onSteadyPreview={(steady) => preview({ steady })}
        settings={settings}
        set={(change) => keep({ settings: change }, 'Restyle')}
        preview={(change) => preview({ settings: change })}
        sizePx={size}
        hasPressure={pen.widthFrom !== 'speed'}
      />
      <BolderBy picking={picking} ppi={ppi} />
      <ByNumbers picking={picking} />
      <ToLayer picking={picking} from={first.layerId} />
    </>
  );
}

type Unit = '%' | 'mm';

/** Makes all that is picked bolder or finer by so much: of its size, or of the paper. */
function BolderBy({ picking, ppi }: { picking: Picking; ppi: number }) {
  const [typed, setTyped] = useState('10');
  const [unit, setUnit] = useState<Unit>('%');
  const amount = typedNumber(typed);
  const isGood = amount > 0 && amount <= (unit === '%' ? 1000 : 100);
  const by = (sign: 1 | -1, label: string) => {
    const how: Restyle =
      unit === '%'
        ? { sizeFactor: sign > 0 ? 1 + amount / 100 : 1 / (1 + amount / 100) }
        : { sizeAddPx: sign * (amount / 25.4) * ppi };
    void picking.restyle(how, `${label} by ${amount} ${unit}`);
  };
  return (
    <View style={styles.group}>
      <View style={[styles.row, styles.bottoms]}>
        <Field
          label="Bolder or finer by"
          value={typed}
          number="decimal"
          style={styles.number}
          onChangeText={setTyped}
        />
        <Choice<Unit>
          label="Bolder or finer in"
          options={[
            { value: '%', label: '%' },
            { value: 'mm', label: 'mm' },
          ]}
          value={unit}
          onChange={setUnit}
        />
        <Button label="Bolder by this" disabled={!isGood} onPress={() => by(1, 'Bolder')} />
        <Button label="Finer by this" disabled={!isGood} onPress={() => by(-1, 'Finer')} />
      </View>
    </View>
  );
}

/** Moves, scales and turns what is picked by numbers that are typed. */
function ByNumbers({ picking }: { picking: Picking }) {
  const [typed, setTyped] = useState({ dx: '0', dy: '0', scale: '100', turnDeg: '0' });
  const numbers = Object.fromEntries(Object.entries(typed).map(([name, text]) => [name, typedNumber(text)])) as Record<
    keyof typeof typed,
    number
  >;
  const isGood =
    Object.values(numbers).every(Number.isFinite) &&
    numbers.scale >= 1 &&
    numbers.scale <= 10000 &&
    [numbers.dx, numbers.dy].every((v) => Math.abs(v) <= 100000);
  const apply = () => {
    const { dx, dy, scale, turnDeg } = numbers;
    void picking.transform({ dx, dy, scale: scale / 100, turnDeg }, 'Move by numbers');
    setTyped({ dx: '0', dy: '0', scale: '100', turnDeg: '0' });
  };
  const field = (name: keyof typeof typed, label: string) => (
    <Field
      label={label}
      value={typed[name]}
      number={name === 'scale' ? 'decimal' : 'signed'}
      style={styles.number}
      onChangeText={(text) => setTyped({ ...typed, [name]: text })}
      onSubmitEditing={() => isGood && apply()}
    />
  );
  return (
    <View style={styles.group}>
      <View style={styles.row}>
        {field('dx', 'Right, px')}
        {field('dy', 'Down, px')}
        {field('scale', 'Scale, %')}
        {field('turnDeg', 'Turn, °')}
      </View>
      <Button
        label={isGood ? 'Move by these' : 'Numbers only; scale 1 to 10,000 %'}
        disabled={!isGood}
        onPress={apply}
      />
    </View>
  );
}

function ToLayer({ picking, from }: { picking: Picking; from: string }) {
  const stack = useAppSelector((s) => s.sheet.stack);
  const layers = new Map(stack.map((layer) => [layer.id, layer]));
  const others = stack.filter((l) => isInkable(l) && !isLocked(l, layers) && l.id !== from);
  if (!others.length) return null;
  return (
    <View style={styles.group}>
      <Words size={14}>To layer</Words>
      <View style={styles.row}>
        {others.map((layer) => (
          <Button key={layer.id} label={layer.name} onPress={() => void picking.toLayer(layer)} />
        ))}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  group: { gap: 6 },
  row: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  number: { width: 88 },
  bottoms: { alignItems: 'flex-end' },
});
