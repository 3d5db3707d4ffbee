import { StyleSheet, View } from 'react-native';
import { CATCHES, type Catch } from '../../../../../core/stroke/met-ends';
import { LEAST_FLAT, LEAST_OPACITY, MOST_TAPER, variesWidth, type PenSettings } from '../../../../../core/stroke/pen';
import { pxToMm } from '../../../../../core/sheet/paper';
import { Choice } from '../../../../components/choice';
import { Slider } from '../../../../components/slider';
import { Toggle } from '../../../../components/toggle';
import { Words } from '../../../../components/text';
import { penSlice, settingsInHand, steadyOf } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { PressureEditor } from './pressure-editor';

const CATCH_NAMES: Record<Catch, string> = { off: 'Off', gentle: 'Gentle', strong: 'Strong' };

interface GroupProps {
  settings: PenSettings;
  set(change: Partial<PenSettings>): void;
}

/** All that is set of the pen in the hand beside its nib: each pen keeps its own. */
export function PenSettingRows() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const settings = settingsInHand(pen);
  const set = (change: Partial<PenSettings>) => dispatch(penSlice.actions.setPen(change));
  const group = { settings, set };
  return (
    <>
      <SettingRow label="Steady" value={steadyOf(pen)} onSet={(v) => dispatch(penSlice.actions.setSteady(v))} />
      {variesWidth(pen.kind) && <WidthRows {...group} />}
      {pen.kind === 'marker' && <FlatNibRows {...group} />}
      <TaperRows {...group} />
      <PercentRow
        label="Opacity"
        name="Ink opacity"
        value={settings.opacity}
        least={LEAST_OPACITY}
        onSet={(opacity) => set({ opacity })}
      />
      <PercentRow label="Soft edge" value={settings.soft} onSet={(soft) => set({ soft })} />
      {pen.kind === 'pencil' && <PercentRow label="Grain" value={settings.grain} onSet={(grain) => set({ grain })} />}
      <Words size={14}>Catch: ends meet lines that they almost touch</Words>
      <Choice<Catch>
        label="Catch"
        options={CATCHES.map((value) => ({ value, label: CATCH_NAMES[value] }))}
        value={pen.catching}
        onChange={(how) => dispatch(penSlice.actions.setCatching(how))}
      />
      <Toggle
        label="Beneath: new lines go under the layer's others"
        on={pen.beneath}
        onChange={(on) => dispatch(penSlice.actions.setBeneath(on))}
      />
    </>
  );
}

/** Where a line's width comes from: pressure, and speed beside it or, without pressure, alone. */
function WidthRows({ settings, set }: GroupProps) {
  const hasPressure = useAppSelector((s) => s.pen.device === 'pen');
  return (
    <>
      <PercentRow label="Smallest width" value={settings.smallest} onSet={(smallest) => set({ smallest })} />
      <PressureEditor />
      <PercentRow
        label="Thinner when fast"
        value={hasPressure ? settings.speed : settings.handSpeed}
        onSet={(part) => set(hasPressure ? { speed: part } : { handSpeed: part })}
      />
    </>
  );
}

/** How thick a flat nib is, and where its width points. */
function FlatNibRows({ settings, set }: GroupProps) {
  return (
    <>
      <PercentRow label="Nib thickness" value={settings.flat} least={LEAST_FLAT} onSet={(flat) => set({ flat })} />
      <SettingRow
        label="Nib angle"
        value={(180 - settings.nibDeg) % 180}
        max={179}
        shown={`${(180 - settings.nibDeg) % 180}°`}
        onSet={(v) => set({ nibDeg: (180 - v) % 180 })}
      />
      <Toggle
        label="The nib turns with a pen that is tilted"
        on={settings.turns}
        onChange={(turns) => set({ turns })}
      />
    </>
  );
}

/** How far a line goes from thin to full at its start, and back at its end. */
function TaperRows({ settings, set }: GroupProps) {
  const sizePx = useAppSelector((s) => s.sheet.settings?.nibs[s.pen.nib] ?? 1);
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  const length = (multiple: number) => {
    const px = multiple * sizePx;
    return `${Math.round(px)} px · ${pxToMm(px, ppi).toFixed(1)} mm`;
  };
  const byLength = settings.tapersBy === 'length';
  return (
    <>
      <Words size={14}>Tapers are measured by</Words>
      <Choice<PenSettings['tapersBy']>
        label="Tapers are measured by"
        options={[
          { value: 'size', label: 'The nib' },
          { value: 'length', label: 'The line' },
        ]}
        value={settings.tapersBy}
        onChange={(tapersBy) => set({ tapersBy })}
      />
      {byLength ? (
        <>
          <PercentRow label="Start taper" value={settings.taperInPart} onSet={(taperInPart) => set({ taperInPart })} />
          <PercentRow label="End taper" value={settings.taperOutPart} onSet={(taperOutPart) => set({ taperOutPart })} />
        </>
      ) : (
        <>
          <SettingRow
            label="Start taper"
            value={4 * settings.taperIn}
            max={4 * MOST_TAPER}
            shown={length(settings.taperIn)}
            onSet={(v) => set({ taperIn: v / 4 })}
          />
          <SettingRow
            label="End taper"
            value={4 * settings.taperOut}
            max={4 * MOST_TAPER}
            shown={length(settings.taperOut)}
            onSet={(v) => set({ taperOut: v / 4 })}
          />
        </>
      )}
    </>
  );
}

/** A part of 0 to 1, set in per cent. */
function PercentRow({
  label,
  name,
  value,
  least = 0,
  onSet,
}: {
  label: string;
  name?: string;
  value: number;
  least?: number;
  onSet(part: number): void;
}) {
  const percent = Math.round(100 * value);
  return (
    <SettingRow
      label={label}
      name={name}
      value={percent}
      min={Math.round(100 * least)}
      shown={`${percent} %`}
      onSet={(v) => onSet(v / 100)}
    />
  );
}

/** A name, a slider and its value. `shown`: the value in words; `name`: what a screen reader says. */
function SettingRow({
  label,
  name = label,
  value,
  min,
  max,
  shown = String(value),
  onSet,
}: {
  label: string;
  name?: string;
  value: number;
  min?: number;
  max?: number;
  shown?: string;
  onSet(value: number): void;
}) {
  const slider = (
    <Slider label={name} value={value} min={min} max={max} spoken={shown} onChange={onSet} onDone={onSet} />
  );
  const words = <Words size={14}>{label}</Words>;
  // A column is too narrow for all in one line; on a phone height is dear.
  if (useLayoutKind() !== 'phone')
    return (
      <View style={styles.setting}>
        <View style={[styles.row, styles.spread]}>
          {words}
          <Words size={14}>{shown}</Words>
        </View>
        {slider}
      </View>
    );
  return (
    <View style={[styles.row, styles.setting]}>
      <View style={styles.name}>{words}</View>
      {slider}
      <Words size={14} style={styles.value}>
        {shown}
      </Words>
    </View>
  );
}

const styles = StyleSheet.create({
  /** Brought into sight by the keyboard, it is not to lie under the preview. */
  setting: { scrollMarginTop: 64 } as object,
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  spread: { justifyContent: 'space-between' },
  name: { width: 84 },
  value: { minWidth: 52, textAlign: 'right' },
});
