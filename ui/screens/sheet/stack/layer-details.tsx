import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import ArrowDown from 'lucide-react-native/icons/arrow-down';
import ArrowDownToLine from 'lucide-react-native/icons/arrow-down-to-line';
import ArrowUp from 'lucide-react-native/icons/arrow-up';
import CopyPlus from 'lucide-react-native/icons/copy-plus';
import PenLine from 'lucide-react-native/icons/pen-line';
import ScanEye from 'lucide-react-native/icons/scan-eye';
import Trash from 'lucide-react-native/icons/trash';
import Ungroup from 'lucide-react-native/icons/ungroup';
import { BLENDS } from '../../../../core/raster/compose';
import { isInkable, type InkableLayer, type Layer, type ReferenceLayer } from '../../../../core/sheet/entities';
import { MAX_NAME, printable } from '../../../../core/sheet/words';
import { IconButton } from '../../../components/button';
import { Choice } from '../../../components/choice';
import { ColourRow } from '../../../components/colour-row';
import { Field } from '../../../components/field';
import { Words } from '../../../components/text';
import { Toggle } from '../../../components/toggle';
import { useOpenSheet } from '../../../session/session-context';
import { hasColourBelow, setInside } from '../../../session/shading';
import { layerDraft } from '../../../session/sheet-drafts';
import { setBeside, setLayerOpacity, setLocked, setPictureVeil, takeTarget } from '../../../session/stack-actions';
import { INK_COLOURS } from '../../../store/pen-slice';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { percentWords } from '../frame/setting-row';
import { SheetDraftRow } from '../frame/sheet-draft-row';
import { BLEND_NAMES, INKABLE_CHOICES } from './layer-words';

/** Everything of a layer that can be changed, and what can be done with it. */
export function LayerDetails({ layer }: { layer: Layer }) {
  const { session, layerActs } = useOpenSheet();
  const isMixed = layer.kind !== 'reference';
  return (
    <View style={styles.details}>
      <OpacityRow layer={layer} />
      <LayerButtons layer={layer} />
      <NameField layer={layer} />
      {layer.kind === 'reference' && <PictureRows layer={layer} />}
      {isMixed && (
        <View style={styles.group}>
          <Words size={14}>Blend with what is below</Words>
          <Choice
            label={`Blend of ${layer.name}`}
            options={BLENDS.map((value) => ({ value, label: BLEND_NAMES[value] }))}
            value={layer.blend ?? 'normal'}
            onChange={(blend) => void layerActs.setBlend(layer, blend)}
          />
        </View>
      )}
      {isInkable(layer) && (
        <View style={styles.group}>
          <Words size={14}>Kind</Words>
          <Choice
            label={`Kind of ${layer.name}`}
            options={INKABLE_CHOICES}
            value={layer.kind}
            onChange={(kind) => void layerActs.setKind(layer, kind)}
          />
        </View>
      )}
      {isInkable(layer) && (layer.inside || hasColourBelow(session.model.stack(), layer)) && (
        <Toggle
          label={`Keep ${layer.name} inside the colour below`}
          on={layer.inside === true}
          onChange={(on) => void setInside(session, layer, on)}
        />
      )}
      <Toggle label={`Lock ${layer.name}`} on={layer.locked} onChange={(on) => void setLocked(session, [layer], on)} />
      {(isInkable(layer) || layer.kind === 'group') && (
        <View style={styles.group}>
          <Words size={14}>{layer.kind === 'group' ? 'Colour all its lines' : 'Colour all lines'}</Words>
          <ColourRow
            label={`Colour of all lines of ${layer.name}`}
            colours={INK_COLOURS}
            wrap
            onTake={(colour) => void layerActs.recolour([layer.id], colour)}
          />
        </View>
      )}
    </View>
  );
}

function NameField({ layer }: { layer: Layer }) {
  const { layerActs } = useOpenSheet();
  const [name, setName] = useState(layer.name);
  const rename = () => {
    const next = printable(name).trim().slice(0, MAX_NAME);
    if (next && next !== layer.name) void layerActs.rename(layer, next);
    else setName(layer.name);
  };
  return <Field label="Name" value={name} onChangeText={setName} onBlur={rename} onSubmitEditing={rename} />;
}

function OpacityRow({ layer }: { layer: Layer }) {
  const { session } = useOpenSheet();
  return (
    <SheetDraftRow
      label="Opacity"
      name={`Opacity of ${layer.name}`}
      value={Math.round(layer.opacity * 100)}
      words={percentWords}
      show={(v) => layerDraft(layer.id, { opacity: v / 100 })}
      onKeep={(v) => setLayerOpacity(session, session.model.layers.get(layer.id)!, v / 100)}
    />
  );
}

/** What a picture has of its own. */
function PictureRows({ layer }: { layer: ReferenceLayer }) {
  const { session } = useOpenSheet();
  return (
    <>
      <SheetDraftRow
        label="Veil"
        name={`White veil over ${layer.name}`}
        value={Math.round((layer.veil ?? 0) * 100)}
        words={percentWords}
        show={(v) => layerDraft(layer.id, { veil: v / 100 })}
        onKeep={(v) => setPictureVeil(session, layer, v / 100)}
      />
      <Toggle
        label={`Lay ${layer.name} beside the paper`}
        on={layer.beside === true}
        onChange={(on) => void setBeside(session, layer, on)}
      />
    </>
  );
}

function LayerButtons({ layer }: { layer: Layer }) {
  const { layerActs } = useOpenSheet();
  const { id, name } = layer;
  const goes = layerActs.goesWith([id]);
  return (
    <View style={styles.buttons}>
      <IconButton label={`Move ${name} up`} caption="Up" icon={ArrowUp} onPress={() => void layerActs.step(id, 'up')} />
      <IconButton
        label={`Move ${name} down`}
        caption="Down"
        icon={ArrowDown}
        onPress={() => void layerActs.step(id, 'down')}
      />
      <SoloButton layer={layer} />
      <IconButton
        label={`Duplicate ${name}`}
        caption="Duplicate"
        icon={CopyPlus}
        style={styles.wide}
        onPress={() => void layerActs.duplicate([id])}
      />
      {isInkable(layer) && <InkableButtons layer={layer} />}
      {layer.kind === 'group' && (
        <IconButton
          label={`Take apart ${name}`}
          caption="Take apart"
          icon={Ungroup}
          style={styles.wide}
          onPress={() => void layerActs.ungroup(layer)}
        />
      )}
      <IconButton
        label={`Delete ${goes}`}
        caption="Delete"
        icon={Trash}
        style={styles.wide}
        onPress={() => void layerActs.delete([id])}
      />
      {goes !== name && (
        <Words size={13} quiet style={styles.goes}>{`Delete takes ${goes}. Undo brings it back.`}</Words>
      )}
    </View>
  );
}

function InkableButtons({ layer }: { layer: InkableLayer }) {
  const { layerActs } = useOpenSheet();
  return (
    <>
      <IconButton
        label={`Merge down: ${layer.name} into the layer below`}
        caption="Merge down"
        icon={ArrowDownToLine}
        style={styles.wide}
        onPress={() => void layerActs.mergeDown(layer)}
      />
      <IconButton
        label={`Two passes: ${layer.name} becomes a hushed rough, with a fresh ink layer above it`}
        caption="Two passes"
        icon={PenLine}
        style={styles.wide}
        onPress={() => void layerActs.twoPasses(layer)}
      />
    </>
  );
}

function SoloButton({ layer }: { layer: Layer }) {
  const dispatch = useAppDispatch();
  const { session } = useOpenSheet();
  const isSolo = useAppSelector((s) => s.sheet.looking.solo === layer.id);
  const toggle = () => {
    dispatch(sheetSlice.actions.look({ solo: isSolo ? undefined : layer.id }));
    if (!isSolo && isInkable(layer)) void takeTarget(session, layer);
  };
  return (
    <IconButton
      label={isSolo ? 'Show all layers again' : `Solo: look at ${layer.name} alone`}
      caption="Solo"
      icon={ScanEye}
      chosen={isSolo}
      style={styles.wide}
      onPress={toggle}
    />
  );
}

const styles = StyleSheet.create({
  details: { gap: 12, paddingTop: 4, paddingBottom: 10 },
  group: { gap: 6 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  value: { minWidth: 48, textAlign: 'right' },
  buttons: { flexDirection: 'row', flexWrap: 'wrap', gap: 6 },
  wide: { minWidth: 74, paddingHorizontal: 4 },
  goes: { flexBasis: '100%' },
});
