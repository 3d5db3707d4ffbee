import type { SheetCard } from '../../contract/answers';
import type { SyncState } from './sender';

/** Something to do about a message, by the name of what it does. */
export interface WayBack {
  label: string;
  does(): void;
}

/** What the interface wants to hear of a session. */
export interface SessionListener {
  /** The sheet is there; its ink is asked for when this has come to its end. */
  found(card: SheetCard): void | Promise<void>;
  /** Its ink could not be read; what was done meanwhile is kept on this device. */
  failed(error: unknown): void;
  structure(): void;
  history(): void;
  /** The paper has another size: the sheet is to be opened anew. */
  paperChanged(): void;
  sync(state: SyncState): void;
  notice(message: string, wayBack?: WayBack): void;
  /** The artist asks to have the deleted sheet back. */
  restoreSheet(): void;
}
