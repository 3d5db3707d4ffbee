import { PointerArbiter, type Contact } from '../../ui/canvas/pointer-arbiter';

type Said = string;

function listen(single: 'ink' | 'move' = 'ink') {
  const said: Said[] = [];
  const arbiter = new PointerArbiter(
    {
      strokeStart: (id) => said.push(`start ${id}`),
      strokeEnd: () => said.push('end'),
      strokeDrop: () => said.push('drop'),
      pageStart: () => said.push('page'),
      pageMove: (from, to, factor, turn) =>
        said.push(`move ${[...from, ...to].map(Math.round).join(' ')} x${factor.toFixed(2)} ${Math.round(turn)}deg`),
      pageEnd: () => said.push('page end'),
    },
    { single, fingersMoveAfterPen: true },
  );
  return { arbiter, said };
}

const at = (id: number, type: Contact['type'], x: number, y: number, t: number, moves = false): Contact => ({
  id,
  type,
  x,
  y,
  t,
  moves,
});

describe('inking, moving the page and resting hands', () => {
  it('takes the stroke back when a second finger comes early, and moves, scales and turns the page', () => {
    const { arbiter, said } = listen();
    arbiter.down(at(1, 'touch', 100, 100, 0));
    arbiter.down(at(2, 'touch', 200, 100, 120));
    arbiter.move(at(2, 'touch', 100, 300, 140));
    arbiter.up(at(1, 'touch', 100, 100, 200));
    arbiter.move(at(2, 'touch', 110, 300, 210));
    arbiter.up(at(2, 'touch', 110, 300, 220));
    expect(said).toEqual([
      'start 1',
      'drop',
      'page',
      'move 150 100 100 200 x2.00 90deg',
      'move 100 300 110 300 x1.00 0deg',
      'page end',
    ]);
  });

  it('also when it comes late but the first has hardly moved', () => {
    const { arbiter, said } = listen();
    arbiter.down(at(1, 'touch', 100, 100, 0));
    arbiter.move(at(1, 'touch', 108, 100, 400));
    arbiter.down(at(2, 'touch', 200, 100, 500));
    expect(said).toEqual(['start 1', 'drop', 'page']);
  });

  it('ignores a later second finger', () => {
    const { arbiter, said } = listen();
    arbiter.down(at(1, 'touch', 100, 100, 0));
    arbiter.move(at(1, 'touch', 140, 100, 200));
    arbiter.down(at(2, 'touch', 200, 100, 300));
    arbiter.move(at(2, 'touch', 250, 180, 320));
    arbiter.up(at(2, 'touch', 250, 180, 340));
    arbiter.up(at(1, 'touch', 160, 100, 400));
    expect(said).toEqual(['start 1', 'end']);
  });

  it('ignores palms while a pen is down and for 300 ms after', () => {
    const { arbiter, said } = listen();
    arbiter.down(at(9, 'pen', 50, 50, 0));
    arbiter.down(at(1, 'touch', 200, 300, 20));
    arbiter.move(at(1, 'touch', 220, 330, 40));
    arbiter.up(at(9, 'pen', 90, 50, 500));
    arbiter.down(at(2, 'touch', 200, 300, 790));
    arbiter.up(at(2, 'touch', 200, 300, 799));
    arbiter.down(at(3, 'touch', 200, 300, 801));
    expect(said).toEqual(['start 9', 'end', 'page']);
  });

  it('takes back what the palm drew before the pen came down', () => {
    const { arbiter, said } = listen();
    arbiter.down(at(1, 'touch', 200, 300, 0));
    arbiter.move(at(1, 'touch', 230, 300, 30));
    arbiter.down(at(9, 'pen', 50, 50, 60));
    arbiter.up(at(1, 'touch', 230, 300, 80));
    arbiter.up(at(9, 'pen', 60, 50, 90));
    expect(said).toEqual(['start 1', 'drop', 'start 9', 'end']);
  });

  it('keeps a pen stroke that the system cancels, and drops a finger one', () => {
    const pen = listen();
    pen.arbiter.down(at(9, 'pen', 50, 50, 0));
    pen.arbiter.cancel(at(9, 'pen', 60, 50, 40));
    const finger = listen();
    finger.arbiter.down(at(1, 'touch', 50, 50, 0));
    finger.arbiter.cancel(at(1, 'touch', 60, 50, 40));
    expect([pen.said, finger.said]).toEqual([
      ['start 9', 'end'],
      ['start 1', 'drop'],
    ]);
  });

  it('moves the page with the mouse when asked, and with anything where nothing inks', () => {
    const mouse = listen();
    mouse.arbiter.down(at(1, 'mouse', 10, 10, 0, true));
    mouse.arbiter.move(at(1, 'mouse', 30, 15, 10, true));
    mouse.arbiter.up(at(1, 'mouse', 30, 15, 20, true));
    const place = listen('move');
    place.arbiter.down(at(1, 'pen', 10, 10, 0));
    place.arbiter.up(at(1, 'pen', 10, 10, 10));
    expect([mouse.said, place.said]).toEqual([
      ['page', 'move 10 10 30 15 x1.00 0deg', 'page end'],
      ['page', 'page end'],
    ]);
  });
});
