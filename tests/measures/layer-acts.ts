import { LayerActs } from '../../ui/session/layer-acts';
import type { SheetSession, WayBack } from '../../ui/session/session';

/** What the artist can do with layers, and what is said to them. */
export function actsOn(session: SheetSession): { acts: LayerActs; said: { text: string; wayBack?: WayBack }[] } {
  const said: { text: string; wayBack?: WayBack }[] = [];
  const acts = new LayerActs(
    session,
    (text, wayBack) => said.push({ text, wayBack }),
    (text) => said.push({ text: `refused: ${text}` }),
  );
  return { acts, said };
}
