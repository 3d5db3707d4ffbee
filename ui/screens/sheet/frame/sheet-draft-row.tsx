import type { ComponentProps } from 'react';
import type { SheetDraft } from '../../../session/sheet-drafts';
import { useSheetDraft } from '../../../session/use-sheet-draft';
import { DraftRow } from './setting-row';

/** A value that the sheet shows while it is moved, and one step when it rests. */
export function SheetDraftRow({
  show,
  onKeep,
  ...rest
}: Omit<ComponentProps<typeof DraftRow>, 'onShow' | 'onKeep'> & {
  show(value: number): SheetDraft;
  onKeep(value: number): Promise<unknown>;
}) {
  const shown = useSheetDraft();
  return <DraftRow {...rest} onShow={(v) => shown.show(show(v))} onKeep={(v) => shown.keep(onKeep(v))} />;
}
