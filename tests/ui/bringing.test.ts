import type { PictureAnswer } from '../../contract/answers';
import type { ReferenceLayer } from '../../core/sheet/entities';
import { placementMatrix } from '../../core/sheet/placement';
import { apply } from '../../core/geometry/matrix';
import { Bringing } from '../../ui/session/bringing';
import { pictureSession } from '../measures/picture-session';

const HASH = 'a'.repeat(64);
const file = (name: string, size = 10) => ({ name, size }) as File;
const stored = (width = 300, height = 200, frames = 1): PictureAnswer => ({
  pictures: [{ hash: HASH, width, height, frames }],
});

/** A sheet with one layer of ink, and what is said of it. */
function opened() {
  const { session, model, labels } = pictureSession();
  const said: string[] = [];
  const warned: string[] = [];
  const bringing = new Bringing(
    session,
    (text) => said.push(text),
    (text) => warned.push(text),
  );
  const names = () => model.stack().map((l) => l.name);
  return { bringing, model, labels, said, warned, names };
}

let list: (PictureAnswer | { code: string; message: string } | 'away' | 'never')[] = [];
let asked = 0;
const answers = (...given: typeof list) => {
  list = given;
  asked = 0;
};

/** The server, as the page's requests know it. */
class Request {
  upload: { onprogress?(e: object): void } = {};
  status = 0;
  response: unknown;
  onload?(): void;
  onerror?(): void;
  onabort?(): void;
  open() {}
  setRequestHeader() {}
  abort() {
    this.onabort?.();
  }
  send() {
    const answer = list[Math.min(asked++, list.length - 1)];
    this.upload.onprogress?.({ lengthComputable: true, loaded: 5, total: 10 });
    if (answer === 'never') return;
    setTimeout(() => {
      if (answer === 'away') return this.onerror?.();
      this.status = 'pictures' in answer ? 200 : 422;
      this.response = answer;
      this.onload?.();
    });
  }
}
beforeAll(() => {
  globalThis.XMLHttpRequest = Request as never;
});

describe('bringing pictures in', () => {
  it('takes several, one step each, above the pictures that are there and beneath all ink', async () => {
    const { bringing, names, labels, warned } = opened();
    answers(stored());
    await bringing.bring([file('one.png'), file('two.jpg')]);
    await bringing.bring([file('three.webp')]);
    expect(names()).toEqual(['one', 'two', 'three', 'Lines']);
    expect(labels).toEqual(['Add picture', 'Add picture', 'Add picture']);
    expect(warned).toEqual([]);
    expect(bringing.progress.now()).toBeUndefined();
  });

  it('tells which of how many is on its way; what is pasted meanwhile waits its turn', async () => {
    const { bringing, names } = opened();
    const seen: string[] = [];
    answers(stored());
    bringing.progress.watch(() => {
      const p = bringing.progress.now();
      if (p) seen.push(`${p.nth}/${p.of}`);
    });
    const first = bringing.bring([file('a.png'), file('b.png')]);
    await bringing.bring([file('pasted.png')]);
    await first;
    expect(names()).toEqual(['a', 'b', 'pasted', 'Lines']);
    expect([...new Set(seen)]).toEqual(['1/2', '2/3', '3/3']);
  });

  it('keeps what came when another fails, and says which and why', async () => {
    const { bringing, names, warned } = opened();
    answers(stored(), { code: 'picture-empty', message: 'This file is empty.' }, stored());
    await bringing.bring([file('a.png'), file('empty.png'), file('c.png')]);
    expect(names()).toEqual(['a', 'c', 'Lines']);
    expect(warned).toEqual(['empty: This file is empty. 2 pictures came in.']);
    answers('away');
    await bringing.bring([file('odd.png')]);
    expect(warned[1]).toMatch(/server.*The sheet is as it was\.$/);
    await bringing.bring([file('heavy.png', 60 * 1024 * 1024)]);
    expect(warned[2]).toMatch(/60 MB; a picture may have 50 MB/);
  });

  it('stops when told to: what came stays, nothing else comes', async () => {
    const { bringing, names, said, warned } = opened();
    answers(stored(), 'never');
    const work = bringing.bring([file('a.png'), file('b.png'), file('c.png')]);
    await new Promise((done) => setTimeout(done, 5));
    bringing.stop();
    await work;
    expect([names(), said, warned]).toEqual([['a', 'Lines'], ['Stopped. One picture came in.'], []]);
    answers(stored());
    await bringing.bring([file('later.png')]);
    expect(names()).toEqual(['a', 'later', 'Lines']);
  });

  it('takes no more at once than anyone means to', async () => {
    const { bringing, names, warned } = opened();
    await bringing.bring(Array.from({ length: 31 }, (_, i) => file(`${i}.png`)));
    expect(names()).toEqual(['Lines']);
    expect(warned[0]).toMatch(/^31 files are too many at once/);
  });

  it('lays the layers of a file as they lie in it, the whole of it fitted, in one step', async () => {
    const { bringing, model, labels, said } = opened();
    const layer = { opacity: 1, visible: true };
    answers({
      canvas: { width: 300, height: 200 },
      pictures: [
        { hash: HASH, width: 300, height: 200, frames: 1, layer: { ...layer, name: 'Sky', x: 0, y: 0 } },
        {
          hash: HASH,
          width: 100,
          height: 50,
          frames: 1,
          layer: { name: ' \u0000Bell ', x: 200, y: 150, opacity: 0.5, visible: false },
        },
      ],
    });
    await bringing.bring([file('ferry.ora')]);
    const [sky, bell] = model.stack() as ReferenceLayer[];
    expect([sky.name, bell.name, labels]).toEqual(['Sky', 'Bell', ['Add 2 pictures']]);
    expect(bell).toMatchObject({ opacity: 0.5, visible: false });
    // The file's lower right corner is the bell's, and the sky's.
    const corner = ({ placement, picture }: ReferenceLayer) =>
      apply(placementMatrix(placement, picture), picture.width, picture.height);
    expect(corner(bell)).toEqual(corner(sky));
    expect(corner(sky)).toEqual([600, 600]);
    expect(said).toEqual(['Each layer of ferry is a picture of its own now.']);
  });

  it('says what was left out, and what is shown smaller', async () => {
    const { bringing, said } = opened();
    answers(stored(300, 200, 12), stored(8000, 6000));
    await bringing.bring([file('walk.gif'), file('large.jpg')]);
    expect(said[0]).toBe('walk holds 12 pictures or pages; the first was placed.');
    expect(said[1]).toMatch(/^large has 8000 x 6000 px\. It is shown with 4096 a side/);
  });
});
