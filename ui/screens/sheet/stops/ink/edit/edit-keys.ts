import type { Picking } from '../../../../../session/picking';
import { EDIT_MODES, sheetSlice } from '../../../../../store/sheet-slice';
import type { KeyAction, KeyContext } from '../../stop';

/** An arrow moves by a paper px; with Shift by ten. */
const FAR = 10;

const next = <T>(all: readonly T[], one: T): T => all[(all.indexOf(one) + 1) % all.length];

/** Keys for what is picked; they mean something only while lines are edited. */
export function editKeys({ store, picking }: KeyContext): Record<string, KeyAction> {
  const isEditing = () => store.getState().sheet.editing;
  const whileEditing = (does: (picking: Picking, e: KeyboardEvent) => void, needsSome = true): KeyAction => ({
    down: (e) => {
      if (!isEditing() || (needsSome && picking.count === 0)) return false;
      does(picking, e);
      return true;
    },
  });
  const nudge = (dx: number, dy: number) =>
    whileEditing((picked, e) => {
      const by = e.shiftKey ? FAR : 1;
      void picked.transform({ dx: dx * by, dy: dy * by }, 'Move');
    });
  const erase = whileEditing((picked) => void picked.delete());
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
    escape: whileEditing((picked) => {
      if (picked.count) picked.clear();
      else store.dispatch(sheetSlice.actions.setEditing(false));
    }, false),
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
