import type { Layer, SheetSettings } from '../../core/sheet/entities';

/** What of a sheet its layers' places and looks come from. */
export interface ShownSheet {
  stack: Layer[];
  settings: SheetSettings;
}

/** Shows a sheet otherwise than its steps have made it. It changes nothing that it is given. */
export type SheetDraft = (sheet: ShownSheet) => ShownSheet;

/**
 * All that is shown of a sheet before a step says so: what controls and tools show at once is laid over what the steps have
 * made, each over the other, whatever comes meanwhile. None of it is kept.
 */
export class SheetDrafts {
  private readonly drafts = new Map<string, SheetDraft>();

  /** @param of its model is what the steps have made, its stage shows it. */
  constructor(
    private readonly of: {
      readonly model: { stack(): Layer[]; readonly settings: SheetSettings };
      readonly stage?: { setSheet(...sheet: [ShownSheet['stack'], ShownSheet['settings']]): void };
    },
  ) {}

  /** Shows a draft in the place of the last one of its name; undefined: none any more. */
  set(name: string, draft: SheetDraft | undefined): void {
    if (draft) this.drafts.set(name, draft);
    else if (!this.drafts.delete(name)) return;
    this.refresh();
  }

  /** Lets a step take a draft's place, unless another one of its name has come by then. */
  async keep(name: string, step: Promise<unknown>): Promise<void> {
    const draft = this.drafts.get(name);
    try {
      await step;
    } finally {
      if (this.drafts.get(name) === draft) this.set(name, undefined);
    }
  }

  /** Shows the sheet anew: it, or a draft, is another one. */
  refresh(): void {
    const { model, stage } = this.of;
    const made = { stack: model.stack(), settings: model.settings };
    const { stack, settings } = [...this.drafts.values()].reduce((sheet, draft) => draft(sheet), made);
    stage?.setSheet(stack, settings);
  }
}

/** One layer with other values. */
export const layerDraft =
  (id: string, change: Partial<Layer>): SheetDraft =>
  ({ stack, settings }) => ({
    stack: stack.map((layer) => (layer.id === id ? ({ ...layer, ...change } as Layer) : layer)),
    settings,
  });

/** Settings with other values. */
export const settingsDraft =
  (change: Partial<SheetSettings>): SheetDraft =>
  ({ stack, settings }) => ({ stack, settings: { ...settings, ...change } });
