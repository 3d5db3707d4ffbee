import type { PictureAnswer } from '../../contract/answers';
import { WORKING_SIDE_PX } from '../../contract/limits';
import { layersIn, putAt } from '../../core/sheet/layer-changes';
import { ApiFailure } from './api';
import { bringPicture, type PictureProgress } from './bring-picture';
import { pictureName, referenceLayers, sizeOf } from './pictures';
import type { SheetSession } from './session';
import { Watched } from './watched';

/** How far files have come: the `nth` of `of`, from 1. */
export type FilesProgress = PictureProgress & { nth: number; of: number };

/** More at once are a slip of the hand. */
const MOST_FILES = 30;

/**
 * Brings files to the open sheet, one after the other, whatever stop is open meanwhile: each beneath all ink and above
 * the pictures that are there, one step a file. What came stays, whatever becomes of the rest.
 */
export class Bringing {
  private readonly waiting: File[] = [];
  private running: AbortController | undefined;
  /** How far it has come; undefined: nothing is on its way. */
  readonly progress = new Watched<FilesProgress | undefined>(undefined);

  /**
   * @param say tells what has come of it.
   * @param warn tells what has not, and why.
   * @param placed a picture is there: the topmost layer of a file.
   */
  constructor(
    private readonly session: SheetSession,
    private readonly say: (text: string) => void,
    private readonly warn: (text: string) => void,
    private readonly placed: (layerId: string) => void = () => undefined,
  ) {}

  /** Adds files to those on their way; the first call resolves when there are none left. */
  async bring(files: readonly File[]): Promise<void> {
    if (this.waiting.length + files.length > MOST_FILES) {
      this.warn(`${files.length} files are too many at once; at most ${MOST_FILES} go. None of them was added.`);
      return;
    }
    this.waiting.push(...files);
    if (this.running || files.length === 0) return;
    const { signal } = (this.running = new AbortController());
    let came = 0;
    const failures: string[] = [];
    for (let nth = 1; this.waiting.length > 0 && !signal.aborted; nth++) {
      const failure = await this.bringNext(nth, signal);
      if (failure === undefined) came++;
      else if (!signal.aborted) failures.push(failure);
    }
    this.waiting.length = 0;
    this.running = undefined;
    this.progress.set(undefined);
    const kept = came ? `${came === 1 ? 'One picture' : `${came} pictures`} came in.` : 'The sheet is as it was.';
    if (failures.length) this.warn(`${failures.join(' ')} ${kept}`);
    else if (signal.aborted && came) this.say(`Stopped. ${kept}`);
  }

  /** Gives up what is on its way and what waits. */
  stop(): void {
    this.running?.abort();
  }

  /** @returns why it did not come. */
  private async bringNext(nth: number, signal: AbortSignal): Promise<string | undefined> {
    const file = this.waiting.shift()!;
    const name = pictureName(file);
    const isOnly = nth === 1 && this.waiting.length === 0;
    try {
      const told = (p: PictureProgress) => this.progress.set({ ...p, nth, of: nth + this.waiting.length });
      const answer = await bringPicture(file, told, signal);
      signal.throwIfAborted();
      await this.place(answer, name);
      const notes = notesOf(answer, name);
      if (notes.length) this.say(notes.join(' '));
      return undefined;
    } catch (error) {
      const reason = error instanceof ApiFailure ? error.message : 'The picture could not be brought in.';
      return isOnly ? reason : `${name}: ${reason}`;
    }
  }

  private async place(answer: PictureAnswer, name: string): Promise<void> {
    const { model, paper } = this.session;
    const firstInk = layersIn(model, null).findIndex((l) => l.kind !== 'reference');
    const layers = referenceLayers(answer, paper, name);
    const changes = putAt(model, layers, { parent: null, index: firstInk === -1 ? Infinity : firstInk });
    await this.session.act(layers.length > 1 ? `Add ${layers.length} pictures` : 'Add picture', changes);
    this.placed(layers[layers.length - 1].id);
  }
}

/** What was left out or made smaller, in words. */
function notesOf(answer: PictureAnswer, name: string): string[] {
  const notes: string[] = [];
  const frames = Math.max(...answer.pictures.map((p) => p.frames));
  if (frames > 1) notes.push(`${name} holds ${frames} pictures or pages; the first was placed.`);
  if (answer.canvas) notes.push(`Each layer of ${name} is a picture of its own now.`);
  const { width, height } = sizeOf(answer);
  if (!answer.canvas && Math.max(width, height) > WORKING_SIDE_PX)
    notes.push(
      `${name} has ${width} x ${height} px. It is shown with ${WORKING_SIDE_PX} a side until you look closer; the original is kept.`,
    );
  return notes;
}
