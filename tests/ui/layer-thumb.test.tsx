import { act, cleanup, render } from '@testing-library/react';
import type { InkLayer } from '../../core/sheet/entities';
import { LayerThumb } from '../../ui/screens/sheet/stack/layer-thumb';

/** The pictures asked for: of which layer, and how to answer. */
const asked: { only: string; answer(parts: BlobPart[]): void }[] = [];
const mockSession = {
  card: { widthPx: 600 },
  client: {
    png: ({ only }: { only: string }) => ({
      result: new Promise<BlobPart[]>((answer) => asked.push({ only, answer })),
    }),
  },
};
const mockState = { sheet: { undo: { count: 0 }, redo: { count: 0 } } };
jest.mock('../../ui/session/session-context', () => ({ useOpenSheet: () => ({ session: mockSession }) }));
jest.mock('../../ui/store/store', () => ({
  useAppSelector: (select: (state: unknown) => unknown) => select(mockState),
}));

const layer = (id: string): InkLayer => ({
  id,
  kind: 'ink',
  deleted: false,
  name: id,
  order: 'a0',
  visible: true,
  locked: false,
  opacity: 1,
});

beforeEach(() => {
  jest.useFakeTimers();
  asked.length = 0;
  mockState.sheet.undo.count = 0;
  URL.createObjectURL = (blob) => `blob:${(blob as Blob).size}`;
  URL.revokeObjectURL = () => undefined;
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

const shown = (root: HTMLElement) => root.querySelector('img')?.getAttribute('src');
const pass = (ms: number) => act(() => jest.advanceTimersByTimeAsync(ms));
const bytes = (n: number) => [new Uint8Array(n)];

describe("a layer's small picture", () => {
  it('is never that of another layer, not even for a moment', async () => {
    const { container, rerender } = render(<LayerThumb layer={layer('lines')} size={40} />);
    await pass(0);
    asked[0].answer(bytes(11));
    await pass(0);
    expect(shown(container)).toBe('blob:11');
    rerender(<LayerThumb layer={layer('new')} size={40} />);
    expect(shown(container)).toBeUndefined();
    await pass(0);
    expect(asked[1].only).toBe('new');
    asked[1].answer(bytes(22));
    await pass(0);
    expect(shown(container)).toBe('blob:22');
  });

  it('takes no answer that comes after the layer has changed', async () => {
    const { container, rerender } = render(<LayerThumb layer={layer('lines')} size={40} />);
    await pass(0);
    rerender(<LayerThumb layer={layer('new')} size={40} />);
    asked[0].answer(bytes(11));
    await pass(0);
    expect(shown(container)).toBeUndefined();
  });

  it('stays until the next is there, which waits for a pause in drawing', async () => {
    const { container, rerender } = render(<LayerThumb layer={layer('lines')} size={40} />);
    await pass(0);
    asked[0].answer(bytes(11));
    await pass(0);
    for (let stroke = 1; stroke <= 3; stroke++) {
      mockState.sheet.undo.count = stroke;
      rerender(<LayerThumb layer={layer('lines')} size={40} />);
      await pass(400);
    }
    expect(asked).toHaveLength(1);
    expect(shown(container)).toBe('blob:11');
    await pass(400);
    expect(asked).toHaveLength(2);
    asked[1].answer(bytes(33));
    await pass(0);
    expect(shown(container)).toBe('blob:33');
  });
});
