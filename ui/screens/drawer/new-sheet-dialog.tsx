import { useState } from 'react';
import { StyleSheet, useWindowDimensions, View } from 'react-native';
import ImagePlus from 'lucide-react-native/icons/image-plus';
import { MAX_NAME } from '../../../core/sheet/words';
import { PAPER_PRESETS, paperOf, paperProblem, pxToMm, type PaperSize } from '../../../core/sheet/paper';
import { Button } from '../../components/button';
import { Choice } from '../../components/choice';
import { Dialog } from '../../components/dialog';
import { Field } from '../../components/field';
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
  const [custom, setCustom] = useState({ width: '2400', height: '3200', ppi: '300' });
  const [busy, setBusy] = useState(false);

  const paper = paperFrom(size, lying, custom, screen);
  const problem = paperProblem(paper) ?? (name.trim() === '' ? 'A sheet needs a name.' : undefined);
  const options = [
    ...PAPER_PRESETS.map((p) => ({ value: p.id, label: p.name, note: describe(paperOf(p, lying)) })),
    { value: SCREEN, label: 'This screen', note: describe(paperFrom(SCREEN, lying, custom, screen)) },
    { value: CUSTOM, label: 'My own size', note: 'width, height, ppi' },
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
      {size === CUSTOM && (
        <View style={styles.row}>
          {(['width', 'height', 'ppi'] as const).map((key) => (
            <Field
              key={key}
              style={styles.number}
              label={{ width: 'Width, px', height: 'Height, px', ppi: 'ppi' }[key]}
              number="whole"
              value={custom[key]}
              onChangeText={(text) => setCustom({ ...custom, [key]: text })}
            />
          ))}
        </View>
      )}
      {problem ? <Words role="alert">{problem}</Words> : <Words quiet>{describe(paper)}</Words>}
      <Button tone="main" label="Make sheet" disabled={problem !== undefined || busy} onPress={() => void make()} />
    </Dialog>
  );
}

function paperFrom(
  size: Size,
  lying: boolean,
  custom: { width: string; height: string; ppi: string },
  screen: { width: number; height: number },
): PaperSize {
  if (size === CUSTOM)
    return { widthPx: Number(custom.width), heightPx: Number(custom.height), ppi: Number(custom.ppi) };
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
