import { useState } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import { MAX_NAME } from '../../../core/sheet/words';
import {
  PAPER_PRESETS,
  paperOf,
  paperProblem,
  pxToMm,
  sideIn,
  sideInPx,
  SIZE_UNITS,
  type PaperSize,
  type SizeUnit,
} from '../../../core/sheet/paper';
import { Button } from '../../components/button';
import { Choice } from '../../components/choice';
import { Dialog } from '../../components/dialog';
import { Field, typedNumber } from '../../components/field';
import { Words } from '../../components/text';

type Size = string;

const CUSTOM = 'custom';
const SCREEN = 'screen';

/** Paper for a new sheet: a size with its px, mm and ppi, upright or lying, or one's own. */
export function NewSheetDialog({
  onClose,
  onMake,
  onPicture,
}: {
  onClose(): void;
  onMake(name: string, paper: PaperSize): Promise<void>;
  onPicture(): void;
}) {
  const screen = useWindowDimensions();
  const [name, setName] = useState('New sheet');
  const [size, setSize] = useState<Size>('a5');
  const [lying, setLying] = useState(false);
  const [custom, setCustom] = useState<OwnSize>({ width: '2400', height: '3200', ppi: '300', unit: 'px' });
  const [busy, setBusy] = useState(false);

  const paper = paperFrom(size, lying, custom, screen);
  const problem = paperProblem(paper) ?? (name.trim() === '' ? 'A sheet needs a name.' : undefined);
  const options = [
    ...PAPER_PRESETS.map((p) => ({ value: p.id, label: p.name, note: describe(paperOf(p, lying)) })),
    { value: SCREEN, label: 'This screen', note: describe(paperFrom(SCREEN, lying, custom, screen)) },
    { value: CUSTOM, label: 'My own size', note: 'width and height in px, mm or in' },
  ];
  const make = async () => {
    setBusy(true);
    await onMake(name.trim(), paper);
    setBusy(false);
  };
  return (
    <Dialog title="New sheet" onClose={onClose}>
      <Field
        label="Name"
        value={name}
        onChangeText={setName}
        selectTextOnFocus
        maxLength={MAX_NAME}
        onSubmitEditing={() => problem === undefined && !busy && void make()}
      />
      <Button icon={ImagePlus} label="As large as my picture" onPress={onPicture} />
      <Choice
        label="Orientation"
        options={[
          { value: 'upright', label: 'Upright' },
          { value: 'lying', label: 'Lying' },
        ]}
        value={lying ? 'lying' : 'upright'}
        onChange={(v) => setLying(v === 'lying')}
      />
      <Choice label="Paper" options={options} value={size} onChange={setSize} />
      {size === CUSTOM && <OwnSizeFields size={custom} onChange={setCustom} />}
      {problem ? <Words role="alert">{problem}</Words> : <Words quiet>{describe(paper)}</Words>}
      <Button tone="main" label="Make sheet" disabled={problem !== undefined || busy} onPress={() => void make()} />
    </Dialog>
  );
}

/** A size as it is typed. */
interface OwnSize {
  width: string;
  height: string;
  ppi: string;
  unit: SizeUnit;
}

/** Width and height in a unit; what is typed stays the same size in another. */
function OwnSizeFields({ size, onChange }: { size: OwnSize; onChange(size: OwnSize): void }) {
  const { unit } = size;
  const into = (next: SizeUnit) => {
    const ppi = typedNumber(size.ppi);
    const again = (text: string) => {
      const px = sideInPx(typedNumber(text), unit, ppi);
      return Number.isNaN(px) ? text : String(sideIn(px, next, ppi));
    };
    onChange({ ...size, width: again(size.width), height: again(size.height), unit: next });
  };
  return (
    <>
      <Choice label="Unit of width and height" options={UNITS} value={unit} onChange={into} />
      <View style={styles.row}>
        {(['width', 'height', 'ppi'] as const).map((key) => (
          <Field
            key={key}
            style={styles.number}
            label={{ width: `Width, ${unit}`, height: `Height, ${unit}`, ppi: 'ppi' }[key]}
            number={unit === 'px' || key === 'ppi' ? 'whole' : 'decimal'}
            value={size[key]}
            onChangeText={(text) => onChange({ ...size, [key]: text })}
          />
        ))}
      </View>
    </>
  );
}

const UNITS = SIZE_UNITS.map((value) => ({ value, label: value }));

function paperFrom(size: Size, lying: boolean, custom: OwnSize, screen: { width: number; height: number }): PaperSize {
  if (size === CUSTOM) {
    const ppi = typedNumber(custom.ppi);
    const side = (text: string) => sideInPx(typedNumber(text), custom.unit, ppi);
    return { widthPx: side(custom.width), heightPx: side(custom.height), ppi };
  }
  if (size === SCREEN) {
    const density = Math.min(2, window.devicePixelRatio || 1);
    const sides = [Math.round(screen.width * density), Math.round(screen.height * density)].sort((a, b) => a - b);
    return { widthPx: sides[lying ? 1 : 0], heightPx: sides[lying ? 0 : 1], ppi: 300 };
  }
  return paperOf(
    PAPER_PRESETS.find((p) => p.id === size)!,
    lying,
  );
}

/** A size in px and mm, that breaks only at its commas. */
export function describe({ widthPx, heightPx, ppi }: PaperSize): string {
  const mm = (px: number) => Math.round(pxToMm(px, ppi));
  return `${widthPx}\u00a0×\u00a0${heightPx}\u00a0px, ${mm(widthPx)}\u00a0×\u00a0${mm(heightPx)}\u00a0mm, ${ppi}\u00a0ppi`;
}

const styles = StyleSheet.create({ row: { flexDirection: 'row', gap: 8 }, number: { flex: 1 } });
