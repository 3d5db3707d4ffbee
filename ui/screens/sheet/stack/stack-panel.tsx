import { useMemo, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { isScaffolding, type Layer } from '../../../../core/sheet/entities';
import { groupsOf, layerTree } from '../../../../core/sheet/layer-tree';
import { stackRows } from '../../../../core/sheet/stack-rows';
import { Button } from '../../../components/button';
import { GROUNDS, type Ground } from '../../../canvas/paper-screen';
import { Choice } from '../../../components/choice';
import { Heading, Words } from '../../../components/text';
import { Toggle } from '../../../components/toggle';
import { useOpenSheet } from '../../../session/session-context';
import { settingsDraft } from '../../../session/sheet-drafts';
import { setSetting } from '../../../session/stack-actions';
import { percentWords } from '../frame/setting-row';
import { SheetDraftRow } from '../frame/sheet-draft-row';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { useLayoutKind } from '../frame/layout-kind';
import { INDENT, LayerRow, ROW_GAP } from './layer-row';
import { INKABLE_CHOICES } from './layer-words';
import { useRowDrag } from './row-drag';
import { SeveralBar } from './several-bar';

/** The layers, top first: which takes the ink, what is shown, what is locked, what lies together. */
export function StackPanel() {
  const { layerActs } = useOpenSheet();
  const stack = useAppSelector((s) => s.sheet.stack);
  const [several, setSeveral] = useState<ReadonlySet<string>>();
  const isLow = useLayoutKind() === 'phone';
  const picked = several && stack.filter(({ id }) => several.has(id));
  const pick = (
    <Button
      label="Several"
      aria-label="Several: pick more than one layer"
      chosen={several !== undefined}
      style={isLow && styles.add}
      onPress={() => setSeveral(several ? undefined : new Set())}
    />
  );
  return (
    <View style={styles.panel}>
      {!isLow && (
        <View style={styles.head}>
          <Heading>Stack</Heading>
          {pick}
        </View>
      )}
      {picked ? (
        <>
          <View style={styles.line}>
            <Words size={14} quiet style={styles.hint}>
              {picked.length ? `${picked.length} of ${stack.length} picked` : 'Touch the layers to pick them'}
            </Words>
            {isLow && pick}
          </View>
          <SeveralBar picked={picked} onDone={() => setSeveral(undefined)} />
        </>
      ) : (
        <View style={styles.adds}>
          {[...INKABLE_CHOICES].reverse().map(({ value, label }) => (
            <Button
              key={value}
              label={`+ ${label}`}
              aria-label={`+ ${label}: add ${value === 'ink' ? 'an' : 'a'} ${value} layer`}
              style={styles.add}
              onPress={() => void layerActs.add(value)}
            />
          ))}
          {isLow && pick}
        </View>
      )}
      <LayerList stack={stack} several={several} setSeveral={setSeveral} />
      {stack.some(isScaffolding) && <ScaffoldingRows />}
      <GroundChoice />
    </View>
  );
}

function LayerList({
  stack,
  several,
  setSeveral,
}: {
  stack: readonly Layer[];
  several: ReadonlySet<string> | undefined;
  setSeveral(picked: ReadonlySet<string>): void;
}) {
  const { layerActs } = useOpenSheet();
  const [open, setOpen] = useState<string>();
  const rows = useMemo(() => stackRows(layerTree(stack)), [stack]);
  const layers = useMemo(() => new Map(stack.map((layer) => [layer.id, layer])), [stack]);
  const movingWith = (id: string): ReadonlySet<string> => (several?.has(id) ? several : new Set([id]));
  const drag = useRowDrag(
    rows,
    INDENT,
    movingWith,
    (id, spot) => void layerActs.move([...movingWith(id)], spot),
    (id, side) => void layerActs.step(id, side),
  );
  const pick = (id: string) => {
    const picked = new Set(several);
    if (!picked.delete(id)) picked.add(id);
    setSeveral(picked);
  };
  return (
    <View role="list" aria-label="Layers, top first" style={styles.list}>
      {rows.map((row) => {
        const { id } = row.layer;
        return (
          <LayerRow
            key={id}
            row={row}
            isAway={groupsOf(row.layer, layers).some((group) => !group.visible)}
            drag={drag}
            picked={several?.has(id)}
            onPick={() => pick(id)}
            open={open === id}
            onOpen={() => setOpen(open === id ? undefined : id)}
          />
        );
      })}
    </View>
  );
}

function ScaffoldingRows() {
  const { session } = useOpenSheet();
  const shown = useAppSelector((s) => s.sheet.settings?.scaffoldingShown ?? true);
  const veil = useAppSelector((s) => s.sheet.settings?.veil ?? 0);
  return (
    <>
      <Toggle
        label="Picture and roughs shown"
        on={shown}
        onChange={(on) => void setSetting(session, 'scaffoldingShown', on, on ? 'Show picture' : 'Hide picture')}
      />
      <SheetDraftRow
        label="Veil"
        name="Veil between picture and ink"
        value={Math.round(veil * 100)}
        words={percentWords}
        show={(v) => settingsDraft({ veil: v / 100 })}
        onKeep={(v) => setSetting(session, 'veil', v / 100, 'Veil')}
      />
    </>
  );
}

const GROUND_NAMES: Record<Ground, string> = { paper: 'Paper', dark: 'Dark', loud: 'Loud', clear: 'Clear' };

/** On what the lines are looked at: a gap or a grey edge shows on a dark or loud ground. Nothing of the sheet changes. */
export function GroundChoice() {
  const dispatch = useAppDispatch();
  const ground = useAppSelector((s) => s.sheet.ground);
  const isSending = useAppSelector((s) => s.sheet.sentGround !== undefined);
  if (isSending) return null;
  return (
    <>
      <Words size={14}>Ground, only to look at the lines</Words>
      <Choice
        label="Ground beneath the lines"
        options={GROUNDS.map((value) => ({ value, label: GROUND_NAMES[value] }))}
        value={ground}
        onChange={(value) => dispatch(sheetSlice.actions.ground(value))}
      />
    </>
  );
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  head: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', flexWrap: 'wrap', gap: 6 },
  adds: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  add: { flexGrow: 1, paddingHorizontal: 8 },
  hint: { flex: 1 },
  list: { gap: ROW_GAP },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  value: { minWidth: 48, textAlign: 'right' },
});
