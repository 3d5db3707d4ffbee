// Measures what the project promises: npm run bench -- [--json FILE] [NAME ...]
import { editFrames } from './edit-frames';
import { points } from './points';
import { writeFileSync } from 'node:fs';
import { catchingUp } from './catching-up';
import { checking, looking } from './checking';
import { coverage, outline, strokeBytes, wetInk } from './ink';
import { inkingBySize } from './inking';
import { line } from './line';
import { editing } from './editing';
import { largePictures } from './large-pictures';
import { largePng } from './large-png';
import { firstLoad } from './load';
import { pensCost } from './pens';
import { pouring } from './pouring';
import { bringing, cropping, toning } from './pictures';
import type { Figure } from './report';
import { editShown, panFrame, penToPaint, sheetOpen } from './screen';
import { stageFrames, stageMemory } from './stage';
import { sixtyLayers } from './sixty-layers';
import { sheetSize } from './sheet-size';
import { steps } from './steps';
import { svg } from './svg';
import { lifting, tracing } from './tracing';

const BENCHES: Record<string, () => Figure[] | Promise<Figure[]>> = {
  line,
  coverage,
  outline,
  'wet-ink': wetInk,
  pens: pensCost,
  editing,
  'stroke-bytes': strokeBytes,
  steps,
  'pen-to-paint': penToPaint,
  'pan-frame': panFrame,
  'stage-frames': stageFrames,
  'stage-memory': stageMemory,
  'sixty-layers': sixtyLayers,
  'first-load': firstLoad,
  'edit-shown': editShown,
  'edit-frames': editFrames,
  points: () => Promise.resolve(points()),
  svg,
  bringing,
  'large-pictures': largePictures,
  'large-png': largePng,
  cropping,
  toning,
  lifting,
  tracing,
  checking,
  looking,
  pouring,
  inking: inkingBySize,
  'sheet-open': sheetOpen,
  'catching-up': catchingUp,
  'sheet-size': sheetSize,
};

async function main(args: string[]): Promise<void> {
  const json = args.indexOf('--json');
  const file = json >= 0 ? args.splice(json, 2)[1] : undefined;
  const names = args.length ? args : Object.keys(BENCHES);
  const all: Figure[] = [];
  for (const name of names) {
    if (!BENCHES[name]) throw new Error(`no bench ${name}; there are ${Object.keys(BENCHES).join(', ')}`);
    for (const f of await BENCHES[name]()) {
      all.push(f);
      const against = f.against ? `  (${f.ratio === undefined ? '' : `${f.ratio}x `}${f.against})` : '';
      console.log(`${f.name}: ${f.value} ${f.unit}${against}`);
    }
  }
  if (file) writeFileSync(file, `${JSON.stringify(all, null, 2)}\n`);
  process.exit(0);
}

void main(process.argv.slice(2));
