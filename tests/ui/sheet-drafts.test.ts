import { stepOf } from '../../core/picture/recipe-steps';
import { assign } from '../../core/sheet/steps';
import { Cropping } from '../../ui/session/cropping';
import { PictureMover } from '../../ui/session/picture-mover';
import { layerDraft, settingsDraft, SheetDrafts, type ShownSheet } from '../../ui/session/sheet-drafts';
import { Toning } from '../../ui/session/toning';
import { pictureSession } from '../measures/picture-session';
import { inkLayer, modelOf } from '../measures/sheets';

function opened() {
  const model = modelOf(inkLayer('a'), inkLayer('b'));
  let shown: ShownSheet = { stack: [], settings: model.settings };
  const drafts = new SheetDrafts({ model, stage: { setSheet: (stack, settings) => (shown = { stack, settings }) } });
  const seen = () => ({
    hush: shown.settings.hush,
    opacities: shown.stack.map(({ opacity }) => opacity),
  });
  return { model, drafts, seen };
}

describe('what is shown before it is kept', () => {
  it('is laid over each other, and over what comes meanwhile', () => {
    const { model, drafts, seen } = opened();
    const { hush } = model.settings;
    drafts.set('opacity', layerDraft('a', { opacity: 0.5 }));
    drafts.set('hush', settingsDraft({ hush: 0.1 }));
    expect(seen()).toEqual({ hush: 0.1, opacities: [0.5, 1] });
    // Another device's step, on what is dragged and beside it.
    for (const id of ['a', 'b']) model.apply([assign('layers', model.layers.get(id)!, 'opacity', 0.8)]);
    drafts.refresh();
    expect(seen()).toEqual({ hush: 0.1, opacities: [0.5, 0.8] });
    drafts.set('hush', undefined);
    expect(seen()).toEqual({ hush, opacities: [0.5, 0.8] });
    drafts.set('opacity', undefined);
    expect(seen()).toEqual({ hush, opacities: [0.8, 0.8] });
    expect(model.settings.hush).toBe(hush);
  });

  it('stands until its step is made, or another one of its name has come, also where the step fails', async () => {
    const { drafts, seen } = opened();
    let made = () => {};
    drafts.set('hush', settingsDraft({ hush: 0.1 }));
    const keeping = drafts.keep('hush', new Promise<void>((resolve) => (made = resolve)));
    expect(seen().hush).toBe(0.1);
    drafts.set('hush', settingsDraft({ hush: 0.3 }));
    made();
    await keeping;
    expect(seen().hush).toBe(0.3);
    await expect(drafts.keep('hush', Promise.reject(new Error('full')))).rejects.toThrow('full');
    expect(seen().hush).not.toBe(0.3);
  });

  it('of a crop, of tones, of a place and of a control at once are all seen, and none undoes another', () => {
    const { session, model, picture, seen } = pictureSession({ locked: false });
    const toning = new Toning(session, () => undefined);
    const cropping = new Cropping(session, () => undefined);
    const mover = new PictureMover(session);
    toning.show(picture(), 'exposure', { stops: 1 });
    mover.nudge('photo', { dx: 7 }, false);
    session.drafts.set('opacity', layerDraft('photo', { opacity: 0.25 }));
    const { cx } = picture().placement;
    const all = () => [stepOf(seen().recipe ?? [], 'exposure')?.stops, seen().placement.cx, seen().opacity];
    expect(all()).toEqual([1, cx + 7, 0.25]);
    model.apply([assign('layers', picture(), 'veil', 0.4)]);
    session.drafts.refresh();
    expect([...all(), seen().veil]).toEqual([1, cx + 7, 0.25, 0.4]);
    mover.drop();
    expect(all()).toEqual([1, cx, 0.25]);
    cropping.begin(picture());
    session.drafts.set('opacity', layerDraft('photo', { opacity: 0.75 }));
    expect(seen().opacity).toBe(0.75);
    cropping.drop();
    toning.giveUp();
    expect(all()).toEqual([undefined, cx, 0.75]);
  });
});
