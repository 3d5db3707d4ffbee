import type { Picking } from '../../../../../session/picking';
import { EDIT_MODES, sheetSlice } from '../../../../../store/sheet-slice';
import type { KeyAction, KeyContext } from '../../stop';

/** An arrow moves by a paper px; with Shift by ten. */
const FAR = 10;

const next = <T>(all: readonly T[], one: T): T => all[(all.indexOf(one) + 1) % all.length];

/** Keys for what is picked; they mean something only while lines are edited. */
export function editKeys({ store, picking, bending }: KeyContext): Record<string, KeyAction> {
  const isEditing = () => store.getState().sheet.editing;
  const whileEditing = (does: (picking: Picking, e: KeyboardEvent) => void, needsSome = true): KeyAction => ({
    down: (e) => {
      if (!isEditing() || (needsSome && picking.count === 0)) return false;
      does(picking, e);
      return true;
    },
  });
  /** What a key does with the chosen point, or else with what is picked. */
  const orPoint = (point: (e: KeyboardEvent) => void, otherwise: KeyAction): KeyAction => ({
    down: (e) => {
      if (!isEditing() || bending.chosenNode === undefined) return otherwise.down(e);
      point(e);
      return true;
    },
  });
  /** What a key does with the line whose nodes are shown. */
  const orLine = (does: () => void, otherwise: KeyAction = { down: () => false }): KeyAction => ({
    down: (e) => {
      if (!bending.nodes) return otherwise.down(e);
      does();
      return true;
    },
  });
  const farOf = (e: KeyboardEvent) => (e.shiftKey ? FAR : 1);
  const nudge = (dx: number, dy: number) =>
    orPoint(
      (e) => void bending.nudge(dx * farOf(e), dy * farOf(e)),
      whileEditing((picked, e) => void picked.transform({ dx: dx * farOf(e), dy: dy * farOf(e) }, 'Move')),
    );
  const erase = orPoint(
    () => void bending.takeAway(),
    whileEditing((picked) => void picked.delete()),
  );
  return {
    e: {
      down: () => {
        const editing = !isEditing();
        store.dispatch(sheetSlice.actions.setEditing(editing));
        if (!editing) picking.clear();
      },
    },
    w: whileEditing((picked) => {
      picked.clear();
      const { editMode } = store.getState().sheet;
      store.dispatch(sheetSlice.actions.setEditMode(next(EDIT_MODES, editMode)));
    }, false),
    escape: orLine(
      () => bending.release(),
      whileEditing((picked) => {
        if (picked.count) picked.clear();
        else store.dispatch(sheetSlice.actions.setEditing(false));
      }, false),
    ),
    enter: orLine(() => bending.release()),
    n: orLine(() => bending.chooseNext()),
    delete: erase,
    backspace: erase,
    arrowleft: nudge(-1, 0),
    arrowright: nudge(1, 0),
    arrowup: nudge(0, -1),
    arrowdown: nudge(0, 1),
    'ctrl+c': whileEditing((picked) => void picked.copy()),
    'ctrl+x': whileEditing((picked) => void picked.cut()),
    'ctrl+v': whileEditing((picked) => void picked.paste(), false),
    'ctrl+d': whileEditing((picked) => void picked.duplicate()),
    'ctrl+a': whileEditing((picked) => {
      const { target } = store.getState().sheet.settings ?? {};
      picked.pickAll((s) => s.layerId === target);
    }, false),
  };
}
