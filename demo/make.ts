// Makes the demo's pictures and ink anew: npm run demo:make
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encodeFrame } from '../contract/frame';
import { makeBellInk } from './bell-ink';
import { makeBellPage } from './bell-page';
import type { DemoInk } from './desk';
import { makeInk } from './ink';
import { makePhoto } from './photo';

/** @param ink, @param picture of a demo sheet: written into its folder. */
async function make(name: string, { layers, strokes, samples }: DemoInk, picture: Promise<Buffer>): Promise<void> {
  const folder = join(__dirname, name);
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'ink.frame'), encodeFrame({ layers, strokes }, samples));
  writeFileSync(join(folder, 'photo.jpg'), await picture);
  console.log(`${name}: ${strokes.length} strokes, a photo of ${(await picture).length} bytes`);
}

async function makeAll(): Promise<void> {
  await make('heron', makeInk(), makePhoto());
  await make('bell', makeBellInk(), makeBellPage());
}

void makeAll();
