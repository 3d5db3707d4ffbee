import { act, cleanup, renderHook } from '@testing-library/react';
import type { OpenSheet } from '../../ui/session/session-context';
import type { PictureMover } from '../../ui/session/picture-mover';
import type { SheetSession } from '../../ui/session/session';
import { HOLD_MS } from '../../ui/components/press-time';
import { useFootHeights } from '../../ui/screens/sheet/frame/foot-heights';
import { KEYS } from '../../ui/screens/sheet/paper/key-list';
import { pageKeys } from '../../ui/screens/sheet/paper/page-keys';
import { FIRST_STOP, stopAt, STOPS } from '../../ui/screens/sheet/stops/stops';
import type { KeyAction } from '../../ui/screens/sheet/stops/stop';
import { colouringSlice } from '../../ui/store/colouring-slice';
import { makeStore } from '../../ui/store/store';
import { sheetSlice } from '../../ui/store/sheet-slice';

// The platform's own parts have no place in jsdom.
jest.mock('expo-router', () => ({}));

const [place, ink, send] = ['place', 'ink', 'send'].map((route) => STOPS.find((s) => s.route === route)!);
afterEach(cleanup);
beforeEach(() => localStorage.clear());

const press = (key: string) => new KeyboardEvent('keydown', { key });
const at = (action: KeyAction, kind: 'down' | 'up', timeStamp: number, repeat = false) =>
  action[kind]?.({ timeStamp, repeat } as KeyboardEvent);

describe('the stops', () => {
  it('are told apart by address, digit and name, and each is listed among the keys', () => {
    for (const what of ['route', 'key', 'name'] as const)
      expect(new Set(STOPS.map((s) => s[what])).size).toBe(STOPS.length);
    expect(STOPS.map((s) => stopAt(`/sheet/x/${s.route}`))).toEqual(STOPS);
    expect(stopAt('/sheet/x')).toBeUndefined();
    expect(stopAt('/sheet/x/constructor')).toBeUndefined();
    expect(FIRST_STOP).toBe(ink);
    const lines = KEYS.map((k) => k.does).join('\n');
    for (const { name, keyLines = [] } of STOPS) {
      expect(lines).toContain(name);
      for (const { does } of keyLines) expect(lines).toContain(does);
    }
    expect(new Set(KEYS.map((k) => k.does)).size).toBe(KEYS.length);
  });

  it('draw only where they have something in the hand', () => {
    expect(STOPS.map((s) => s.tool !== undefined)).toEqual([false, true, false, true, false]);
    const settings = { nibs: [3, 9, 15, 26] } as never;
    const state = makeStore().getState();
    expect(ink.tool!(state, settings, 300, false)).toMatchObject({ sizePx: 9 });
    expect(ink.tool!(state, settings, 300, false).eraser).toBeUndefined();
    expect(ink.tool!(state, settings, 300, true)).toMatchObject({ eraser: { kind: 'hard', sizePx: 24 } });
  });
});

describe('the keys', () => {
  const stage = { view: { scale: 2, turnDeg: 30, x: 0, y: 0 }, size: { width: 100, height: 100 }, fit: jest.fn() };
  const setView = jest.fn((view: typeof stage.view) => (stage.view = view));
  const session = { stage: Object.assign(stage, { setView }) } as unknown as SheetSession;
  const nudges: unknown[] = [];
  const mover = { nudge: (...all: unknown[]) => nudges.push(all) } as unknown as PictureMover;

  const open = { session, mover, picking: { count: 0 } } as unknown as OpenSheet;

  it('of Place move and turn the picture while it may be moved, and mean nothing otherwise', () => {
    const store = makeStore();
    const keys = place.keys!({ ...open, store });
    expect(keys.arrowright.down(press('ArrowRight'))).toBe(false);
    store.dispatch(sheetSlice.actions.movePicture('photo'));
    expect(keys.arrowright.down(press('ArrowRight'))).toBe(true);
    expect(keys[','].down(press(','))).toBe(true);
    expect(nudges).toEqual([
      ['photo', { dx: 2, dy: 0, turnDeg: 0, factor: 1 }, false],
      ['photo', { dx: 0, dy: 0, turnDeg: -1, factor: 1 }, false],
    ]);
  });

  it('of Colour go through its ways, and take a colour or none', () => {
    const store = makeStore();
    const colour = stopAt('/sheet/x/colour')!;
    const keys = colour.keys!({ ...open, store });
    const ways = [0, 1, 2, 3, 4].map(() => {
      keys.w.down(press('w'));
      return store.getState().colouring.way;
    });
    expect(ways).toEqual(['lasso', 'brush', 'hatch', 'text', 'pour']);
    // No guides are there that could be kept or dropped.
    expect([keys.enter.down(press('Enter')), keys.escape.down(press('Escape'))]).toEqual([false, false]);
    keys.q.down(press('q'));
    expect(store.getState().colouring.picking).toBe('picture');
    expect(keys.escape.down(press('Escape'))).toBe(true);
    expect(store.getState().colouring.picking).toBeNull();
    // What is painted by hand has the colour of this stop, not that of ink.
    store.dispatch(colouringSlice.actions.set({ colour: '#123456' }));
    expect(colour.tool!(store.getState(), { nibs: [3, 9, 15, 26] } as never, 300, false).colour).toBe('#123456');
    store.dispatch(colouringSlice.actions.used('#123456'));
    store.dispatch(colouringSlice.actions.used('#123456'));
    expect(store.getState().colouring.recents.slice(0, 2)).toEqual(['#123456', '#6f8fa6']);
  });

  it('of Ink take nibs, and borrow or keep the eraser', () => {
    const store = makeStore();
    const keys = ink.keys!({ ...open, store });
    keys.d.down(press('d'));
    expect(store.getState().pen.nib).toBe(2);
    const erasing = () => [store.getState().pen.eraserHeld, store.getState().pen.erasing];
    // Tapped: kept. Held, with the repeats of a held key: borrowed.
    at(keys.x, 'down', 1000);
    at(keys.x, 'up', 1000 + HOLD_MS / 2);
    expect(erasing()).toEqual([false, true]);
    at(keys.x, 'down', 2000);
    at(keys.x, 'down', 2000 + HOLD_MS / 2, true);
    expect(erasing()).toEqual([true, true]);
    at(keys.x, 'up', 2000 + 2 * HOLD_MS);
    expect(erasing()).toEqual([false, true]);
    // The window goes away while it is held.
    at(keys.x, 'down', 9000);
    keys.x.cancel!();
    expect(erasing()).toEqual([false, true]);
  });

  it('of the page zoom, turn, level and move it, and look while they are held', () => {
    const store = makeStore();
    const keys = pageKeys({ session, store });
    keys['+'].down(press('+'));
    expect(stage.view.scale).toBe(2.5);
    keys.m.down(press('m'));
    expect(stage.view.turnDeg).toBeCloseTo(0, 9);
    const { x } = stage.view;
    keys.arrowright.down(press('ArrowRight'));
    expect(stage.view.x).toBe(x - 40);
    keys['0'].down(press('0'));
    expect(stage.fit).toHaveBeenCalledTimes(1);
    const peeks = () => store.getState().sheet.looking.peekHeld;
    keys.h.down(press('h'));
    expect(peeks()).toBe(true);
    keys.h.up!(press('h'));
    expect(peeks()).toBe(false);
    keys.h.down(press('h'));
    keys.h.cancel!();
    expect(peeks()).toBe(false);
  });
});

describe('the heights below the paper', () => {
  it('are measured, follow what is laid out, and stand while one draws', () => {
    const { result } = renderHook(() => useFootHeights(390));
    act(() => result.current.tell(send, 421, false));
    act(() => result.current.tell(send, 300, false));
    expect(result.current.of(send)).toBe(300);
    act(() => result.current.tell(ink, 240, false));
    act(() => result.current.tell(ink, 300, false));
    expect(result.current.of(ink)).toBe(240);
    act(() => result.current.tell(place, 900, true));
    expect(result.current.of(place)).toBe(result.current.of({ ...place, route: 'unknown' }));
  });

  it('are kept for the next visit, for each width, and measured anew there', () => {
    const first = renderHook(() => useFootHeights(390));
    act(() => first.result.current.tell(ink, 240, false));
    const next = renderHook(() => useFootHeights(390));
    expect(next.result.current.of(ink)).toBe(240);
    act(() => next.result.current.tell(ink, 252, false));
    expect(next.result.current.of(ink)).toBe(252);
    expect(renderHook(() => useFootHeights(360)).result.current.of(ink)).not.toBe(252);
  });

  it('take what the store holds for no more than numbers', () => {
    localStorage.setItem('hush-line-foot-heights', JSON.stringify({ 'ink 390': 'tall', 'send 390': -3 }));
    const { result } = renderHook(() => useFootHeights(390));
    expect(result.current.of(ink)).toBeGreaterThan(100);
    expect(result.current.of(send)).toBeGreaterThan(100);
  });
});
