import { createContext, useContext, type ComponentType, type ReactNode } from 'react';
import type { SheetSettings } from '../../../../core/sheet/entities';
import type { Icon } from '../../../components/button';
import type { HandTool } from '../../../session/inking';
import type { OpenSheet } from '../../../session/session-context';
import type { AppStore, RootState } from '../../../store/store';

/** What a key works on. */
export interface KeyContext extends OpenSheet {
  store: AppStore;
}

/** What a key does when it goes down and up. `down` returns false where the key means nothing now. */
export interface KeyAction {
  /** It changes what is in the hand: it means the same at every stop at which the pen draws. */
  isForHand?: true;
  down(e: KeyboardEvent): boolean | void;
  up?(e: KeyboardEvent): void;
  /** The window has lost its keys while this one was down. */
  cancel?(): void;
}

/** What the pointers do on the paper instead of inking and of moving it; places in paper px. */
export interface PaperGestures {
  /** @param adds Shift was held. */
  start(adds: boolean): void;
  /** The pointer was there: where it came down at first, then all that it has passed. */
  move(at: { x: number; y: number }): void;
  end(): void;
  drop(): void;
  /** Whether two fingers that begin there move something else than the page. */
  takesTwo(x: number, y: number): boolean;
  /** Two fingers move on, in CSS px of the stage. */
  moveTwo(from: readonly [number, number], to: readonly [number, number], factor: number, turnDeg: number): void;
  endTwo(): void;
}

/** A line of the page that lists the keys. */
export interface KeyLine {
  keys: string;
  does: string;
}

/** One stop of the work. All that the frame has to know of it is said here; the rest is in the stop's folder. */
export interface Stop {
  /** The last part of its address. */
  route: string;
  name: string;
  icon: Icon;
  /** The digit that leads there; it stays the same when other stops join. */
  key: string;
  /** Its bar and rest (frame/tray.tsx). */
  Tray: ComponentType;
  /**
   * Of a stop at which the pen draws: what is in the hand. Bars fold there, and the tray opens over the paper on
   * demand only; elsewhere fingers and pen move the page.
   */
  tool?(state: RootState, settings: SheetSettings, ppi: number, eraserEnd: boolean): HandTool;
  /** What a phone on its side shows in the slim strip, beside undo and redo. */
  Strip?: ComponentType;
  /** What stands beside undo and the eraser. */
  Float?: ComponentType;
  /** What a pointer does on the paper now, where it does not ink. @param place where it has come down, paper px. */
  gestures?(at: KeyContext, place?: { x: number; y: number }): PaperGestures | undefined;
  /** What it has to say where "Saved" stands; nothing where all is well. */
  Status?: ComponentType<{ children: ReactNode }>;
  /** What lies over the paper while the stop is open. */
  OverPaper?: ComponentType;
  /** Keys of its own, in lower case as `KeyboardEvent.key` names them; before those of the other stops and the page. */
  keys?(at: KeyContext): Record<string, KeyAction>;
  keyLines?: readonly KeyLine[];
}

const Context = createContext<Stop | undefined>(undefined);
export const StopProvider = Context.Provider;

/** The open stop. @throws outside a sheet's screens. */
export function useStop(): Stop {
  const stop = useContext(Context);
  if (!stop) throw new Error('no stop is open here');
  return stop;
}
