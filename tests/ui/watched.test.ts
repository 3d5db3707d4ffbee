import { lookingFrom, Watched } from '../../ui/session/watched';

describe('what is watched', () => {
  it('is looked at once by who begins to listen: it may have changed since it was drawn', () => {
    const watched = new Watched('drawn');
    watched.set('changed before');
    const seen: string[] = [];
    const stop = lookingFrom(watched.watch, () => seen.push(watched.now()));
    watched.set('then');
    watched.set('then');
    stop();
    watched.set('after');
    expect(seen).toEqual(['changed before', 'then']);
  });
});
