import { StyleSheet, View } from 'react-native';
import { Button } from '../../../../components/button';
import { Words } from '../../../../components/text';
import { Toggle } from '../../../../components/toggle';
import { colouringSlice, LEAST_APART, MOST_APART, type HatchDials } from '../../../../store/colouring-slice';
import { useWatched } from '../../../../session/watched';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { useLayoutKind } from '../../frame/layout-kind';
import { percentWords, SettingRow } from '../../frame/setting-row';
import { useHatching } from './use-hatching';

/** What hatching waits for, and what becomes of the strokes that are looked at. */
export function HatchRow() {
  const hatching = useHatching();
  const guides = useWatched(hatching.guides);
  const strokes = useWatched(hatching.strokes);
  const kind = useLayoutKind();
  return (
    <View style={[styles.line, kind !== 'phone' && styles.wraps]}>
      <Words size={14} quiet style={[styles.words, kind !== 'phone' && styles.whole]} numberOfLines={2}>
        {wordsFor(guides.length, strokes)}
      </Words>
      {guides.length > 0 && <Button label="Drop" aria-label="Drop the guides" onPress={() => hatching.clear()} />}
      {guides.length === 2 && (
        <Button label="Keep" aria-label="Keep the hatching" tone="main" onPress={() => hatching.keepNow()} />
      )}
    </View>
  );
}

function wordsFor(guides: number, strokes: readonly unknown[] | 'many'): string {
  if (guides === 0) return 'Draw a guide where strokes begin, then one where they end.';
  if (guides === 1) return 'Now the second guide.';
  if (strokes === 'many') return 'More strokes than are laid at once: lay them wider apart.';
  return `${strokes.length} ${strokes.length === 1 ? 'stroke' : 'strokes'}`;
}

/** How the strokes are laid. */
export function HatchDialRows() {
  const dispatch = useAppDispatch();
  const dials = useAppSelector((s) => s.colouring.hatch);
  const set = (change: Partial<HatchDials>) => dispatch(colouringSlice.actions.set({ hatch: { ...dials, ...change } }));
  const part = (label: string, name: string, field: 'wave' | 'taper') => (
    <SettingRow
      label={label}
      name={name}
      value={Math.round(dials[field] * 100)}
      shown={percentWords(Math.round(dials[field] * 100))}
      onSet={(v) => set({ [field]: v / 100 })}
    />
  );
  return (
    <>
      <SettingRow
        label="Apart"
        name="Distance between strokes, in their widths"
        value={dials.apart}
        min={LEAST_APART}
        max={MOST_APART}
        step={0.1}
        shown={`${dials.apart.toFixed(1)} x`}
        onSet={(apart) => set({ apart })}
      />
      <SettingRow
        label="Lean"
        name="How far strokes lean, degrees"
        value={Math.round((Math.atan(dials.lean) * 180) / Math.PI)}
        min={-MOST_LEAN_DEG}
        max={MOST_LEAN_DEG}
        step={1}
        shown={`${Math.round((Math.atan(dials.lean) * 180) / Math.PI)}°`}
        onSet={(deg) => set({ lean: Math.tan((deg * Math.PI) / 180) })}
      />
      {part('Wander', 'How much strokes wander', 'wave')}
      {part('Taper', 'How long strokes taper', 'taper')}
      <Toggle label="Crossed by a second set" on={dials.crosses} onChange={(crosses) => set({ crosses })} />
    </>
  );
}

const MOST_LEAN_DEG = 60;

const styles = StyleSheet.create({
  line: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 44 },
  wraps: { flexWrap: 'wrap' },
  words: { flex: 1, minWidth: 0 },
  whole: { flexBasis: '100%' },
});
