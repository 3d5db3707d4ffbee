import { StyleSheet, View } from 'react-native';
import { LEAST_OPACITY, MOST_TAPER, variesWidth, type PenSettings } from '../../../../../core/stroke/pen';
import { Button } from '../../../../components/button';
import { Slider } from '../../../../components/slider';
import { Toggle } from '../../../../components/toggle';
import { Words } from '../../../../components/text';
import { ownSettings, penSlice, steadyOf } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { PEN_NAMES } from './pen-names';
import { PressureEditor } from './pressure-editor';

/** All that is set of the pen in the hand beside its nib: each pen keeps its own. */
export function PenSettingRows() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const sizePx = useAppSelector((s) => s.sheet.settings?.nibs[pen.nib] ?? 1);
  const settings = ownSettings(pen, pen.kind);
  const set = (change: Partial<PenSettings>) => dispatch(penSlice.actions.setPen(change));
  const taper = (multiple: number) => `${Math.round(multiple * sizePx)} px`;
  return (
    <>
      <SettingRow label="Steady" value={steadyOf(pen)} onSet={(v) => dispatch(penSlice.actions.setSteady(v))} />
      {variesWidth(pen.kind) && (
        <SettingRow
          label="Smallest width"
          value={Math.round(100 * settings.smallest)}
          shown={`${Math.round(100 * settings.smallest)} %`}
          onSet={(v) => set({ smallest: v / 100 })}
        />
      )}
      {variesWidth(pen.kind) && <PressureEditor />}
      <SettingRow
        label="Taper at the start"
        value={4 * settings.taperIn}
        max={4 * MOST_TAPER}
        shown={taper(settings.taperIn)}
        onSet={(v) => set({ taperIn: v / 4 })}
      />
      <SettingRow
        label="Taper at the end"
        value={4 * settings.taperOut}
        max={4 * MOST_TAPER}
        shown={taper(settings.taperOut)}
        onSet={(v) => set({ taperOut: v / 4 })}
      />
      <SettingRow
        label="Opacity"
        name="Ink opacity"
        value={Math.round(100 * settings.opacity)}
        min={100 * LEAST_OPACITY}
        shown={`${Math.round(100 * settings.opacity)} %`}
        onSet={(v) => set({ opacity: v / 100 })}
      />
      <Toggle
        label="Beneath: new lines go under the layer's others"
        on={pen.beneath}
        onChange={(on) => dispatch(penSlice.actions.setBeneath(on))}
      />
      {pen.own[pen.kind] && (
        <Button label={`${PEN_NAMES[pen.kind]} as it came`} onPress={() => dispatch(penSlice.actions.resetPen())} />
      )}
    </>
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
  value: { width: 52, textAlign: 'right' },
});
