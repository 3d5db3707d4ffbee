import { act, cleanup, render } from '@testing-library/react';
import { useLayoutEffect } from 'react';
import { useTellings } from '../../ui/components/use-tellings';
import { Watched } from '../../ui/session/watched';

afterEach(cleanup);

const watch = (value: Watched<string>, told: () => void) => value.watch(told);

/** Shows the value; what it does before it listens is given. */
function Shown({ of, first }: { of?: Watched<string>; first?: () => void }) {
  useTellings(of, watch);
  // Layout effects come before those that listen.
  useLayoutEffect(() => first?.(), [first]);
  return <p>{of?.now() ?? 'nothing'}</p>;
}

const text = (root: HTMLElement) => root.textContent;

describe('what a component is told of', () => {
  it('is drawn anew at each telling', () => {
    const value = new Watched('one');
    const { container } = render(<Shown of={value} />);
    expect(text(container)).toBe('one');
    act(() => value.set('two'));
    expect(text(container)).toBe('two');
  });

  it('is seen though it changed after the drawing and before the listening', () => {
    const value = new Watched('one');
    const first = () => value.set('between');
    const { container } = render(<Shown of={value} first={first} />);
    expect(text(container)).toBe('between');
  });

  it('is let go of with the component, and for another', () => {
    const [old, next] = [new Watched('old'), new Watched('next')];
    const ends: string[] = [];
    const watchEnds = (value: Watched<string>, told: () => void) => {
      const end = watch(value, told);
      return () => (ends.push(value.now()), end());
    };
    function Ended({ of }: { of?: Watched<string> }) {
      useTellings(of, watchEnds);
      return <p>{of?.now() ?? 'nothing'}</p>;
    }
    const { container, rerender, unmount } = render(<Ended of={old} />);
    rerender(<Ended of={next} />);
    expect(text(container)).toBe('next');
    expect(ends).toEqual(['old']);
    rerender(<Ended />);
    expect(text(container)).toBe('nothing');
    expect(ends).toEqual(['old', 'next']);
    unmount();
    expect(ends).toHaveLength(2);
  });
});
