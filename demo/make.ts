// Makes the demo's picture and ink anew: npm run demo:make
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encodeFrame } from '../contract/frame';
import { makeInk } from './ink';
import { makePhoto } from './photo';

const folder = join(__dirname, 'heron');

async function make(): Promise<void> {
  mkdirSync(folder, { recursive: true });
  const { layers, strokes, samples } = makeInk();
  writeFileSync(join(folder, 'ink.frame'), encodeFrame({ layers, strokes }, samples));
  console.log(`ink: ${strokes.length} strokes`);
  const photo = await makePhoto();
  writeFileSync(join(folder, 'photo.jpg'), photo);
  console.log(`photo: ${photo.length} bytes`);
}

void make();
