import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import Blend from 'lucide-react-native/icons/blend';
import { isScaffolding } from '../../../../core/sheet/entities';
import { IconButton } from '../../../components/button';
import { Slider } from '../../../components/slider';
import { Words } from '../../../components/text';
import { useOpenSheet } from '../../../session/session-context';
import { settingsDraft } from '../../../session/sheet-drafts';
import { setSetting } from '../../../session/stack-actions';
import { useSheetDraft } from '../../../session/use-sheet-draft';
import { sheetSlice } from '../../../store/sheet-slice';
import { useAppDispatch, useAppSelector } from '../../../store/store';
import { useTheme } from '../../../theme/theme-context';
import type { LayoutKind } from './layout-kind';
import { PeekButton } from './peek-button';

/** How loud the scaffolding is: away while held, from quiet to full, or on top while held. */
export function HushRow({ kind }: { kind: LayoutKind }) {
  const theme = useTheme();
  const { session } = useOpenSheet();
  const dispatch = useAppDispatch();
  const hush = useAppSelector((s) => s.sheet.settings?.hush ?? 0);
  const { over } = useAppSelector((s) => s.sheet.looking);
  const hasScaffolding = useAppSelector((s) => s.sheet.stack.some(isScaffolding));
  const hasPicture = useAppSelector((s) => s.sheet.stack.some((l) => l.kind === 'reference'));
  const [draft, setDraft] = useState<number>();
  const shown = useSheetDraft();
  const look = (part: Parameters<typeof sheetSlice.actions.look>[0]) => dispatch(sheetSlice.actions.look(part));
  const percent = Math.round((draft ?? hush) * 100);

  const drag = (value: number) => {
    setDraft(value / 100);
    shown.show(settingsDraft({ hush: value / 100 }));
  };
  const done = (value: number) => {
    setDraft(undefined);
    const isSame = value / 100 === session.model.settings.hush;
    shown.keep(isSame ? undefined : setSetting(session, 'hush', value / 100, 'Hush'));
  };
  const overButton = (
    <IconButton
      label="Over: the picture on top while held"
      caption="Over"
      icon={Blend}
      chosen={over}
      disabled={!hasPicture}
      size={18}
      style={styles.button}
      onPressIn={() => look({ over: true })}
      onPressOut={() => look({ over: false })}
    />
  );
  const slider = (
    <>
      <Words strong size={14}>
        Picture
      </Words>
      <Slider
        label="Picture opacity"
        spoken={`${percent} %`}
        value={percent}
        onChange={drag}
        onDone={done}
        disabled={!hasScaffolding}
      />
      <Words size={14} style={styles.value}>
        {`${percent} %`}
      </Words>
    </>
  );
  if (kind === 'phone')
    return (
      <View style={[styles.row, { backgroundColor: theme.card, borderColor: theme.rule }]}>
        <PeekButton />
        {slider}
        {overButton}
      </View>
    );
  return (
    <View style={[styles.column, { borderColor: theme.rule, backgroundColor: theme.card }]}>
      <View style={styles.line}>{slider}</View>
      <View style={styles.line}>
        <PeekButton />
        {overButton}
      </View>
    </View>
  );
}

const styles = StyleSheet.create({
  row: {
    flexDirection: 'row',
    alignItems: 'center',
    gap: 8,
    paddingHorizontal: 8,
    paddingVertical: 4,
    borderTopWidth: 1,
  },
  column: { gap: 4, padding: 12, borderTopWidth: 1 },
  line: { flexDirection: 'row', alignItems: 'center', gap: 8 },
  button: { minWidth: 60, minHeight: 48, flexGrow: 0 },
  value: { width: 42, textAlign: 'right' },
});
