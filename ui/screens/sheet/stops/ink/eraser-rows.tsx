import { LEAST_OPACITY } from '../../../../../core/stroke/pen';
import type { EraserKind } from '../../../../../core/stroke/eraser';
import { Choice } from '../../../../components/choice';
import { Toggle } from '../../../../components/toggle';
import { LEAST_ERASER_MM, MOST_ERASER_MM, penSlice, type EraserState } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { eraserSizes } from '../../../../session/hand-tool';
import { SettingRow } from '../../frame/setting-row';

const SPAN = MOST_ERASER_MM / LEAST_ERASER_MM;
const positionOf = (mm: number): number => Math.round((100 * Math.log(mm / LEAST_ERASER_MM)) / Math.log(SPAN));
const mmAt = (position: number): number => Math.round(100 * LEAST_ERASER_MM * SPAN ** (position / 100)) / 100;

const KINDS: { value: EraserKind; label: string; note: string }[] = [
  { value: 'hard', label: 'Hard', note: 'cuts lines' },
  { value: 'soft', label: 'Soft', note: 'fades what lies below' },
];

/** All that is set of the eraser. */
export function EraserRows() {
  const dispatch = useAppDispatch();
  const eraser = useAppSelector((s) => s.pen.eraser);
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  const set = (change: Partial<EraserState>) => dispatch(penSlice.actions.setEraser(change));
  const { chosen, sizesMm } = eraser;
  const mm = sizesMm[chosen];
  const px = eraserSizes(eraser, ppi)[chosen];
  const setSize = (v: number) =>
    set({ sizesMm: sizesMm.map((one, i) => (i === chosen ? mmAt(v) : one)) as EraserState['sizesMm'] });
  const percent = (label: string, field: 'softness' | 'strength', least = 0) => (
    <SettingRow
      label={label}
      value={Math.round(100 * eraser[field])}
      min={Math.round(100 * least)}
      shown={`${Math.round(100 * eraser[field])} %`}
      onSet={(v) => set({ [field]: v / 100 })}
    />
  );
  return (
    <>
      <Choice label="Eraser" options={KINDS} value={eraser.kind} onChange={(kind) => set({ kind })} />
      <SettingRow
        label="Size"
        name="Size of the eraser"
        value={positionOf(mm)}
        shown={`${px} px · ${mm.toFixed(mm < 10 ? 2 : 1)} mm`}
        onSet={setSize}
      />
      {eraser.kind === 'soft' && (
        <>
          {percent('Strength', 'strength', LEAST_OPACITY)}
          {percent('Soft edge', 'softness')}
        </>
      )}
      <Toggle
        label="Wider with pressure, where the device tells it"
        on={eraser.pressed}
        onChange={(pressed) => set({ pressed })}
      />
    </>
  );
}
