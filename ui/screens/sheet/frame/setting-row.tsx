import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { Slider } from '../../../components/slider';
import { Words } from '../../../components/text';
import { useLayoutKind } from './layout-kind';

/** A name, a slider and its value. `shown`: the value in words; `name`: what a screen reader says. */
export function SettingRow({
  label,
  name = label,
  value,
  min,
  max,
  step,
  shown = String(value),
  onSet,
  onPreview = onSet,
}: {
  label: string;
  name?: string;
  value: number;
  min?: number;
  max?: number;
  step?: number;
  shown?: string;
  onSet(value: number): void;
  /** While the slider moves; absent: it is set at once. */
  onPreview?(value: number): void;
}) {
  const slider = (
    <Slider
      label={name}
      value={value}
      min={min}
      max={max}
      step={step}
      spoken={shown}
      onChange={onPreview}
      onDone={onSet}
    />
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

/** The same for what is shown while the slider moves and kept when it rests. @param words a value in words. */
export function DraftRow({
  value,
  words,
  onShow,
  onKeep,
  ...rest
}: {
  label: string;
  name?: string;
  value: number;
  min?: number;
  max?: number;
  step?: number;
  words(value: number): string;
  onShow(value: number): void;
  onKeep(value: number): void;
}) {
  const [moved, setMoved] = useState<number>();
  return (
    <SettingRow
      {...rest}
      value={moved ?? value}
      shown={words(moved ?? value)}
      onPreview={(v) => {
        setMoved(v);
        onShow(v);
      }}
      onSet={(v) => {
        setMoved(undefined);
        onKeep(v);
      }}
    />
  );
}

export const percentWords = (value: number): string => `${Math.round(value)} %`;

const styles = StyleSheet.create({
  /** Brought into sight by the keyboard, it is not to lie under the preview. */
  setting: { scrollMarginTop: 64 } as object,
  row: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  spread: { justifyContent: 'space-between' },
  name: { width: 84 },
  value: { minWidth: 52, textAlign: 'right' },
});
