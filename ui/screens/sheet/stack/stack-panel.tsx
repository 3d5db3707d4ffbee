import { useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import Lock from 'lucide-react-native/icons/lock';
import Trash from 'lucide-react-native/icons/trash';
import { MAX_NAME, printable } from '../../../../core/sheet/words';
import { isInkable, isScaffolding, type Layer } from '../../../../core/sheet/entities';
import { Button, IconButton } from '../../../components/button';
import { GROUNDS, type Ground } from '../../../canvas/paper-screen';
import { Choice } from '../../../components/choice';
import { Field } from '../../../components/field';
import { Slider } from '../../../components/slider';
import { Heading, Words } from '../../../components/text';
import { Toggle } from '../../../components/toggle';
import { useOpenSheet } from '../../../session/session-context';
import {
  addLayer,
  deleteLayer,
  moveLayer,
  moveLayerTo,
  renameLayer,
  setLayerOpacity,
  setLocked,
  setSetting,
  setVisible,
  takeTarget,
} from '../../../session/stack-actions';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { LayerGrip } from './layer-grip';
import { LayerThumb } from './layer-thumb';

const ROW_GAP = 6;

const KIND_NAMES = { reference: 'Reference', rough: 'Rough', ink: 'Ink' } as const;

/** The layers, top first: which takes the ink, what is shown, what is locked. */
export function StackPanel() {
  const { session } = useOpenSheet();
  const stack = useAppSelector((s) => s.sheet.stack);
  const shown = useAppSelector((s) => s.sheet.settings?.scaffoldingShown ?? true);
  const veil = useAppSelector((s) => s.sheet.settings?.veil ?? 0);
  const [open, setOpen] = useState<string>();
  const [drag, setDrag] = useState<RowDrag>();
  const [veilDraft, setVeilDraft] = useState<number>();
  const percent = Math.round((veilDraft ?? veil) * 100);
  return (
    <View style={styles.panel}>
      <View style={styles.head}>
        <Heading>Stack</Heading>
        <View style={styles.adds}>
          <Button label="+ Ink" aria-label="+ Ink: add an ink layer" onPress={() => void addLayer(session, 'ink')} />
          <Button
            label="+ Rough"
            aria-label="+ Rough: add a rough layer"
            onPress={() => void addLayer(session, 'rough')}
          />
        </View>
      </View>
      <View role="list" aria-label="Layers, top first" style={styles.list}>
        {[...stack].reverse().map((layer, row) => (
          <LayerRow
            key={layer.id}
            layer={layer}
            row={row}
            drag={drag}
            onDrag={setDrag}
            open={open === layer.id}
            onOpen={() => setOpen(open === layer.id ? undefined : layer.id)}
          />
        ))}
      </View>
      {stack.some(isScaffolding) && (
        <>
          <Toggle
            label="Picture and roughs shown"
            on={shown}
            onChange={(on) => void setSetting(session, 'scaffoldingShown', on, on ? 'Show picture' : 'Hide picture')}
          />
          <View style={styles.line}>
            <Words size={14}>Veil</Words>
            <Slider
              label="Veil between picture and ink"
              spoken={`${percent} %`}
              value={percent}
              onChange={(v) => {
                setVeilDraft(v / 100);
                session.stage?.setSheet(session.model.stack(), { ...session.model.settings, veil: v / 100 });
              }}
              onDone={(v) => {
                setVeilDraft(undefined);
                void setSetting(session, 'veil', v / 100, 'Veil');
              }}
            />
            <Words size={14} style={styles.value}>{`${percent} %`}</Words>
          </View>
        </>
      )}
      <GroundChoice />
    </View>
  );
}

const GROUND_NAMES: Record<Ground, string> = { paper: 'Paper', dark: 'Dark', loud: 'Loud', clear: 'Clear' };

/** On what the lines are looked at: a gap or a grey edge shows on a dark or loud ground. Nothing of the sheet changes. */
function GroundChoice() {
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

/** A row that is being dragged: which, how far, and by how many rows it has come. */
interface RowDrag {
  id: string;
  row: number;
  dy: number;
  by: number;
}

function LayerRow({
  layer,
  row,
  drag,
  onDrag,
  open,
  onOpen,
}: {
  layer: Layer;
  row: number;
  drag: RowDrag | undefined;
  onDrag(drag: RowDrag | undefined): void;
  open: boolean;
  onOpen(): void;
}) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const isTarget = useAppSelector((s) => s.sheet.settings?.target === layer.id);
  const inkable = isInkable(layer);
  const [height, setHeight] = useState(56);
  const rows = useAppSelector((s) => s.sheet.stack.length);
  const rowsFor = (dy: number) => Math.min(rows - 1 - row, Math.max(-row, Math.round(dy / (height + ROW_GAP))));
  const drop = (dy: number) => {
    onDrag(undefined);
    const by = rowsFor(dy);
    // Rows count from the top, places from the bottom.
    if (by !== 0) void moveLayerTo(session, layer, rows - 1 - row - by);
  };
  const isDragged = drag?.id === layer.id;
  // The others make room.
  const passed =
    drag &&
    !isDragged &&
    (drag.by > 0 ? row > drag.row && row <= drag.row + drag.by : row < drag.row && row >= drag.row + drag.by);
  const shift = isDragged ? drag.dy : passed ? -Math.sign(drag.by) * (height + ROW_GAP) : 0;
  const percent = Math.round(layer.opacity * 100);
  const face = (
    <>
      <LayerThumb layer={layer} size={40} />
      <View style={styles.words}>
        <Words strong size={15} numberOfLines={2} style={styles.name}>
          {layer.name}
        </Words>
        <View style={styles.about}>
          {(layer.locked || !inkable) && (
            <View role="img" aria-label="Locked">
              <Lock size={13} color={theme.quiet} />
            </View>
          )}
          <Words size={13} quiet>
            {KIND_NAMES[layer.kind]}
          </Words>
          {percent < 100 && <Words size={13} quiet>{`· ${percent} %`}</Words>}
        </View>
      </View>
    </>
  );
  return (
    <View
      role="listitem"
      onLayout={(e) => !open && setHeight(e.nativeEvent.layout.height)}
      style={[
        styles.row,
        shift !== 0 && { transform: [{ translateY: shift }] },
        isDragged && styles.lifted,
        { borderColor: isTarget ? theme.accent : theme.rule, backgroundColor: isTarget ? theme.chosen : theme.raised },
      ]}
    >
      <View style={styles.line}>
        <LayerGrip
          name={layer.name}
          onDrag={(dy) => onDrag(dy === undefined ? undefined : { id: layer.id, row, dy, by: rowsFor(dy) })}
          onDrop={drop}
          onStep={(by) => void moveLayer(session, layer, by)}
        />
        {inkable ? (
          <Pressable
            role="button"
            aria-pressed={isTarget}
            style={styles.face}
            onPress={() => void takeTarget(session, layer)}
          >
            {face}
          </Pressable>
        ) : (
          <View style={styles.face}>{face}</View>
        )}
        <IconButton
          label={layer.visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
          icon={layer.visible ? Eye : EyeOff}
          boxed={false}
          size={19}
          onPress={() => void setVisible(session, layer, !layer.visible)}
        />
        <IconButton
          label={`More for ${layer.name}`}
          icon={Ellipsis}
          boxed={false}
          size={19}
          aria-expanded={open}
          onPress={onOpen}
        />
      </View>
      {open && <LayerDetails layer={layer} />}
    </View>
  );
}

function LayerDetails({ layer }: { layer: Layer }) {
  const { session } = useOpenSheet();
  const [name, setName] = useState(layer.name);
  const [opacity, setOpacity] = useState<number>();
  const percent = Math.round((opacity ?? layer.opacity) * 100);
  const rename = () => {
    const next = printable(name).trim().slice(0, MAX_NAME);
    if (next && next !== layer.name) void renameLayer(session, layer, next);
    else setName(layer.name);
  };
  return (
    <View style={styles.details}>
      <Field label="Name" value={name} onChangeText={setName} onBlur={rename} onSubmitEditing={rename} />
      <View style={styles.line}>
        <Words size={14}>Opacity</Words>
        <Slider
          label={`Opacity of ${layer.name}`}
          spoken={`${percent} %`}
          value={percent}
          onChange={(v) => {
            setOpacity(v / 100);
            const stack = session.model.stack().map((l) => (l.id === layer.id ? { ...l, opacity: v / 100 } : l));
            session.stage?.setSheet(stack, session.model.settings);
          }}
          onDone={(v) => {
            setOpacity(undefined);
            void setLayerOpacity(session, session.model.layers.get(layer.id)!, v / 100);
          }}
        />
        <Words size={14} style={styles.value}>{`${percent} %`}</Words>
      </View>
      {isInkable(layer) && (
        <Toggle label={`Lock ${layer.name}`} on={layer.locked} onChange={(on) => void setLocked(session, layer, on)} />
      )}
      <View style={styles.adds}>
        <IconButton label={`Move ${layer.name} up`} icon={ArrowUp} onPress={() => void moveLayer(session, layer, 1)} />
        <IconButton
          label={`Move ${layer.name} down`}
          icon={ArrowDown}
          onPress={() => void moveLayer(session, layer, -1)}
        />
        <IconButton label={`Delete ${layer.name}`} icon={Trash} onPress={() => void deleteLayer(session, layer)} />
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  panel: { gap: 10 },
  head: { flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', flexWrap: 'wrap', gap: 6 },
  adds: { flexDirection: 'row', gap: 8 },
  list: { gap: ROW_GAP },
  lifted: { zIndex: 5, opacity: 0.92 },
  row: { borderWidth: 1, borderRadius: RADIUS, paddingLeft: 8, paddingVertical: 4 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  face: { flex: 1, minWidth: 0, minHeight: TOUCH, flexDirection: 'row', alignItems: 'center', gap: 8 },
  words: { flex: 1, minWidth: 0 },
  name: { lineHeight: 18 },
  about: { flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', columnGap: 4 },
  details: { gap: 8, padding: 8, paddingLeft: 0 },
  value: { width: 42, textAlign: 'right' },
});
