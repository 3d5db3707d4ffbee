import { CATCHES, type Catch } from '../../../../../core/stroke/met-ends';
import {
  LEAST_FLAT,
  LEAST_OPACITY,
  MOST_TAPER,
  variesWidth,
  type PenKind,
  type PenSettings,
} from '../../../../../core/stroke/pen';
import { pxToMm } from '../../../../../core/sheet/paper';
import { Choice } from '../../../../components/choice';
import { Toggle } from '../../../../components/toggle';
import { Words } from '../../../../components/text';
import { penSlice, settingsInHand, steadyOf } from '../../../../store/pen-slice';
import { useAppDispatch, useAppSelector } from '../../../../store/store';
import { SettingRow } from '../../frame/setting-row';
import { PressureEditor } from './pressure-editor';

const CATCH_NAMES: Record<Catch, string> = { off: 'Off', gentle: 'Gentle', strong: 'Strong' };

interface GroupProps {
  settings: PenSettings;
  set(change: Partial<PenSettings>): void;
  /** Shows a change while a slider moves; absent: it is set at once. */
  preview?(change: Partial<PenSettings>): void;
  /** Of the lines in question, paper px. */
  sizePx: number;
  hasPressure: boolean;
}

/** All that is set of the pen in the hand beside its nib: each pen keeps its own. */
export function PenSettingRows() {
  const dispatch = useAppDispatch();
  const pen = useAppSelector((s) => s.pen);
  const sizePx = useAppSelector((s) => s.sheet.settings?.nibs[s.pen.nib] ?? 1);
  return (
    <>
      <LineSettingRows
        kind={pen.kind}
        steady={steadyOf(pen)}
        onSteady={(v) => dispatch(penSlice.actions.setSteady(v))}
        settings={settingsInHand(pen)}
        set={(change) => dispatch(penSlice.actions.setPen(change))}
        sizePx={sizePx}
        hasPressure={pen.device === 'pen'}
      />
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

/** All that makes a line of a kind of pen beside its size: of the pen in the hand, or of lines that are there. */
export function LineSettingRows({
  kind,
  steady,
  onSteady,
  onSteadyPreview,
  ...group
}: GroupProps & {
  kind: PenKind;
  steady: number;
  onSteady(steady: number): void;
  onSteadyPreview?(steady: number): void;
}) {
  const { settings, set, preview } = group;
  return (
    <>
      <SettingRow label="Steady" value={steady} onSet={onSteady} onPreview={onSteadyPreview} />
      {variesWidth(kind) && <WidthRows {...group} />}
      {kind === 'marker' && <FlatNibRows {...group} />}
      <TaperRows {...group} />
      <PercentRow
        label="Opacity"
        name="Ink opacity"
        field="opacity"
        least={LEAST_OPACITY}
        {...{ settings, set, preview }}
      />
      <PercentRow label="Soft edge" field="soft" {...{ settings, set, preview }} />
      {kind === 'pencil' && <PercentRow label="Grain" field="grain" {...{ settings, set, preview }} />}
    </>
  );
}

/** Where a line's width comes from: pressure, and speed beside it or, without pressure, alone. */
function WidthRows({ hasPressure, ...group }: GroupProps) {
  return (
    <>
      <PercentRow label="Smallest width" field="smallest" {...group} />
      <PressureEditor press={group.settings.press} onSet={(press) => group.set({ press })} />
      <PercentRow label="Thinner when fast" field={hasPressure ? 'speed' : 'handSpeed'} {...group} />
    </>
  );
}

/** How thick a flat nib is, and where its width points. */
function FlatNibRows(group: GroupProps) {
  const { settings, set, preview } = group;
  const turn = (v: number) => ({ nibDeg: (180 - v) % 180 });
  return (
    <>
      <PercentRow label="Nib thickness" field="flat" least={LEAST_FLAT} {...group} />
      <SettingRow
        label="Nib angle"
        value={(180 - settings.nibDeg) % 180}
        max={179}
        shown={`${(180 - settings.nibDeg) % 180}°`}
        onSet={(v) => set(turn(v))}
        onPreview={preview && ((v) => preview(turn(v)))}
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
function TaperRows(group: GroupProps) {
  const { settings, set, preview, sizePx } = group;
  const ppi = useAppSelector((s) => s.sheet.card?.ppi ?? 300);
  const length = (multiple: number) => {
    const px = multiple * sizePx;
    return `${Math.round(px)} px · ${pxToMm(px, ppi).toFixed(1)} mm`;
  };
  const byNib = (label: string, field: 'taperIn' | 'taperOut') => (
    <SettingRow
      label={label}
      value={Math.round(4 * settings[field])}
      max={4 * MOST_TAPER}
      shown={length(settings[field])}
      onSet={(v) => set({ [field]: v / 4 })}
      onPreview={preview && ((v) => preview({ [field]: v / 4 }))}
    />
  );
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
      {settings.tapersBy === 'length' ? (
        <>
          <PercentRow label="Start taper" field="taperInPart" {...group} />
          <PercentRow label="End taper" field="taperOutPart" {...group} />
        </>
      ) : (
        <>
          {byNib('Start taper', 'taperIn')}
          {byNib('End taper', 'taperOut')}
        </>
      )}
    </>
  );
}

/** The settings that are parts of 0 to 1. */
type Part = 'smallest' | 'speed' | 'handSpeed' | 'flat' | 'taperInPart' | 'taperOutPart' | 'opacity' | 'soft' | 'grain';

/** A part of 0 to 1, set in per cent. */
function PercentRow({
  label,
  name,
  field,
  least = 0,
  settings,
  set,
  preview,
}: Pick<GroupProps, 'settings' | 'set' | 'preview'> & { label: string; name?: string; field: Part; least?: number }) {
  const percent = Math.round(100 * settings[field]);
  return (
    <SettingRow
      label={label}
      name={name}
      value={percent}
      min={Math.round(100 * least)}
      shown={`${percent} %`}
      onSet={(v) => set({ [field]: v / 100 })}
      onPreview={preview && ((v) => preview({ [field]: v / 100 }))}
    />
  );
}
