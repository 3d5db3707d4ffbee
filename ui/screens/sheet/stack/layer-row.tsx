import { useEffect, useRef } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import ChevronDown from 'lucide-react-native/icons/chevron-down';
import ChevronRight from 'lucide-react-native/icons/chevron-right';
import Ellipsis from 'lucide-react-native/icons/ellipsis';
import Eye from 'lucide-react-native/icons/eye';
import EyeOff from 'lucide-react-native/icons/eye-off';
import Lock from 'lucide-react-native/icons/lock';
import Square from 'lucide-react-native/icons/square';
import SquareCheck from 'lucide-react-native/icons/square-check-big';
import { isInkable, type Layer } from '../../../../core/sheet/entities';
import type { StackRow } from '../../../../core/sheet/stack-rows';
import { IconButton } from '../../../components/button';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { setVisible, takeTarget } from '../../../session/stack-actions';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { RADIUS, TOUCH } from '../../../theme/theme';
import { useTheme } from '../../../theme/theme-context';
import { LayerDetails } from './layer-details';
import { LayerGrip } from './layer-grip';
import { LayerThumb } from './layer-thumb';
import { BLEND_NAMES, KIND_NAMES } from './layer-words';
import type { RowDrag } from './row-drag';

export const ROW_GAP = 6;
/** What lies in a group stands so much further in, up to so deep. */
export const INDENT = 14;
const MOST_INDENTS = 4;

interface Props {
  row: StackRow;
  /** Whether a group around it is hidden. */
  isAway: boolean;
  drag: RowDrag;
  /** Whether it is among those that are picked; undefined: none are being picked. */
  picked: boolean | undefined;
  onPick(): void;
  open: boolean;
  onOpen(): void;
}

/** A layer in the stack's list: what it is, its eye, and, unfolded, everything that can be done with it. */
export function LayerRow({ row, isAway, drag, picked, onPick, open, onOpen }: Props) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const { layer, depth } = row;
  const isTarget = useAppSelector((s) => s.sheet.settings?.target === layer.id);
  const { shiftX, shiftY, isDragged } = drag.shiftOf(row);
  const element = useRef<View>(null);
  // Where little of the list is in sight, what was unfolded is.
  useEffect(() => {
    const node = element.current as unknown as Partial<HTMLElement> | null;
    if (open) node?.scrollIntoView?.({ block: 'start' });
  }, [open]);
  return (
    <View
      ref={element}
      role="listitem"
      aria-level={depth + 1}
      onLayout={(e) => !open && drag.measure(e.nativeEvent.layout.height + ROW_GAP)}
      style={[
        styles.row,
        { marginLeft: INDENT * Math.min(MOST_INDENTS, depth) },
        (shiftX !== 0 || shiftY !== 0) && { transform: [{ translateX: shiftX }, { translateY: shiftY }] },
        isDragged && styles.lifted,
        { borderColor: isTarget ? theme.accent : theme.rule, backgroundColor: isTarget ? theme.chosen : theme.raised },
      ]}
    >
      <View style={styles.line}>
        <LayerGrip name={layer.name} {...drag.gripOf(row)} />
        <LayerFace layer={layer} isTarget={isTarget} picked={picked} onPick={onPick} />
        <IconButton
          label={layer.visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
          icon={layer.visible ? Eye : EyeOff}
          boxed={false}
          size={19}
          style={isAway && styles.away}
          onPress={() => void setVisible(session, [layer], !layer.visible)}
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

function LayerFace({
  layer,
  isTarget,
  picked,
  onPick,
}: {
  layer: Layer;
  isTarget: boolean;
  picked: boolean | undefined;
  onPick(): void;
}) {
  const theme = useTheme();
  const dispatch = useAppDispatch();
  const { session, layerActs } = useOpenSheet();
  const solo = useAppSelector((s) => s.sheet.looking.solo);
  const take = () => {
    if (!isInkable(layer)) return;
    void takeTarget(session, layer);
    // What is inked on is what is looked at.
    if (solo !== undefined) dispatch(sheetSlice.actions.look({ solo: solo === layer.id ? solo : undefined }));
  };
  const Check = picked ? SquareCheck : Square;
  const face = (
    <>
      {picked !== undefined && (
        <View aria-hidden>
          <Check size={20} color={picked ? theme.accent : theme.quiet} />
        </View>
      )}
      {layer.kind === 'group' && picked === undefined && <FoldSign folded={layer.folded === true} />}
      <LayerThumb layer={layer} size={layer.kind === 'group' ? 34 : 40} />
      <LayerWords layer={layer} />
    </>
  );
  if (picked !== undefined)
    return (
      <Pressable
        role="checkbox"
        aria-checked={picked}
        aria-label={`Pick ${layer.name}`}
        style={styles.face}
        onPress={onPick}
      >
        {face}
      </Pressable>
    );
  if (layer.kind === 'group')
    return (
      <Pressable
        role="button"
        aria-expanded={!layer.folded}
        aria-label={`${layer.folded ? 'Open' : 'Close'} ${layer.name}`}
        style={styles.face}
        onPress={() => void layerActs.setFolded(layer, !layer.folded)}
      >
        {face}
      </Pressable>
    );
  if (!isInkable(layer)) return <View style={styles.face}>{face}</View>;
  return (
    <Pressable role="button" aria-pressed={isTarget} style={styles.face} onPress={take}>
      {face}
    </Pressable>
  );
}

function FoldSign({ folded }: { folded: boolean }) {
  const theme = useTheme();
  const Chevron = folded ? ChevronRight : ChevronDown;
  return (
    <View aria-hidden>
      <Chevron size={16} color={theme.quiet} />
    </View>
  );
}

function LayerWords({ layer }: { layer: Layer }) {
  const theme = useTheme();
  const percent = Math.round(layer.opacity * 100);
  const isSolo = useAppSelector((s) => s.sheet.looking.solo === layer.id);
  const blend = layer.kind === 'reference' || !layer.blend || layer.blend === 'normal' ? undefined : layer.blend;
  const about = [
    KIND_NAMES[layer.kind],
    layer.kind === 'reference' && layer.beside && 'Beside',
    percent < 100 && `${percent} %`,
    blend && BLEND_NAMES[blend],
    isInkable(layer) && layer.inside && 'Inside',
    isSolo && 'Solo',
  ];
  return (
    <View style={styles.words}>
      <Words strong size={15} numberOfLines={2} style={styles.name}>
        {layer.name}
      </Words>
      <View style={styles.about}>
        {layer.locked && (
          <View role="img" aria-label="Locked">
            <Lock size={13} color={theme.quiet} />
          </View>
        )}
        <Words size={13} quiet style={styles.shrinks}>
          {about.filter(Boolean).join(' · ')}
        </Words>
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  row: { borderWidth: 1, borderRadius: RADIUS, paddingHorizontal: 6 },
  lifted: { zIndex: 1, opacity: 0.92 },
  away: { opacity: 0.4 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 2 },
  face: { flex: 1, flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: TOUCH + 8 },
  words: { flex: 1 },
  name: { overflowWrap: 'anywhere' } as object,
  about: { flexDirection: 'row', alignItems: 'center', gap: 4 },
  shrinks: { flexShrink: 1 },
});
