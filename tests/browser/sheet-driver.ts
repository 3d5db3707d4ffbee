import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Download, Page } from 'playwright-core';
import { readInk } from '../../contract/ink-frame';
import type { Stroke } from '../../core/sheet/entities';
import { ACANTHUS } from '../measures/photographs';
import { listed } from '../measures/sheets';
import { until } from '../measures/until';
import { saved } from './harness';

/** A photo of 600 x 800 px once upright, stored on its side as a phone does (EXIF orientation 6). */
export async function phonePhoto(folder: string): Promise<{ path: string; upright: Buffer }> {
  const upright = await sharp(ACANTHUS).resize(600, 800, { fit: 'fill' }).png().toBuffer();
  const lying = await sharp(upright).rotate(270).jpeg({ quality: 95 }).withMetadata({ orientation: 6 }).toBuffer();
  const path = join(folder, 'acanthus.jpg');
  writeFileSync(path, lying);
  return { path, upright };
}

/** Chooses a file through a button that asks for one. */
export async function choose(page: Page, button: string, path: string): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: button, exact: true }).click(),
  ]);
  await chooser.setFiles(path);
}

/** Makes a sheet of one's own size from the drawer at `url`, and waits until it is open on Ink. */
export async function newSheet(page: Page, url: string, name: string, width = '600', height = '800'): Promise<void> {
  await page.goto(url);
  await page.getByRole('button', { name: 'Blank sheet' }).click();
  await page.getByLabel('Name').fill(name);
  await page.getByRole('radio', { name: /My own size/ }).click();
  await page.getByLabel('Width, px').fill(width);
  await page.getByLabel('Height, px').fill(height);
  await page.getByRole('button', { name: 'Make sheet' }).click();
  await page.getByTestId('paper').waitFor();
  await settled(page);
}

/** Brings back the bars and columns that fold away while inking. */
export async function unfold(page: Page): Promise<void> {
  const chip = page.getByRole('button', { name: 'Show the title bar and the stops' });
  if (await chip.count()) await chip.click();
}

/** Goes to a stop. */
export async function goTo(page: Page, stop: string): Promise<void> {
  await unfold(page);
  await page.getByRole('tab', { name: stop }).click();
}

export const sheetId = (page: Page) => /sheet\/([^/]+)/.exec(page.url())![1];

/**
 * What the server answers. It is asked at its own address, whatever name the page calls it by, and again where an idle
 * connection was closed by it as it was taken up.
 */
export function asked(page: Page, path: string) {
  const url = new URL(path, page.url());
  url.hostname = '127.0.0.1';
  return page.request.get(url.href, { maxRetries: 3 });
}

/** All strokes of a sheet as the server has them. */
export async function inkOf(page: Page, id: string): Promise<Stroke[]> {
  const answer = await asked(page, `/api/sheets/${id}/strokes`);
  return listed(readInk(new Uint8Array(await answer.body())).strokes);
}

/** Steps in the sheet's journal. */
export async function steps(page: Page): Promise<number> {
  const head = (await (await asked(page, `/api/sheets/${sheetId(page)}`)).json()) as {
    card: { seq: number };
  };
  return head.card.seq;
}

/** Looks at which no further step may have come. */
const STEP_LOOKS = 4;

/** Waits until the server has so many steps, and none more comes. */
export async function stepsReach(page: Page, count: number): Promise<void> {
  await until(async () => (await steps(page)) >= count, `${count} steps`, 100);
  await saved(page);
  for (let looks = 0; looks < STEP_LOOKS; looks++) {
    expect(await steps(page)).toBe(count);
    await nextFrames(page);
  }
}

/** What the screen shows of the paper alone, as RGBA. */
export async function paperPixels(page: Page): Promise<{ data: Buffer; width: number; height: number }> {
  const shot = await page.getByTestId('paper').screenshot();
  const { data, info } = await sharp(shot).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height };
}

/** The nib's ring follows pen and mouse and is no ink; the same place twice would be no movement. */
export async function hideRing(page: Page): Promise<void> {
  await page.mouse.move(5, 5);
  await page.mouse.move(2, 2);
}

/** Looks in a row at which nothing may be under way: what keys have moved is kept once they rest. */
const QUIET_LOOKS = 5;
const LOOK_MS = 100;
/** What is in sight is painted as it is, nothing is being looked for, and nothing moves. */
const IS_QUIET = `(globalThis.stage?.isComplete ?? !location.pathname.startsWith('/sheet/'))
  && !document.querySelector('[aria-busy=true]')
  && !document.getAnimations().some(({ playState }) => playState === 'running')`;

const nextFrames = (page: Page) =>
  page.evaluate('new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))');

/** Until what is in sight is painted as it is, and nothing more comes. */
export async function settled(page: Page): Promise<void> {
  let quiet = 0;
  const isQuiet = async () => {
    await nextFrames(page);
    quiet = (await page.evaluate<boolean>(IS_QUIET)) ? quiet + 1 : 0;
    return quiet === QUIET_LOOKS;
  };
  await until(isQuiet, 'what is in sight is painted, and nothing more comes', LOOK_MS);
}

/** Dark pixels in a region of the screen. */
export async function inkIn(
  page: Page,
  clip: { x: number; y: number; width: number; height: number },
): Promise<number> {
  await hideRing(page);
  const { data } = await sharp(await page.screenshot({ clip }))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return data.filter((v) => v < 90).length;
}

async function bytesOf(download: Download): Promise<Buffer> {
  return readFileSync((await download.path())!);
}

export async function send(page: Page, clicks: string[], button: string): Promise<{ name: string; bytes: Buffer }> {
  for (const name of clicks) await page.getByRole('radio', { name }).click();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: button }).click()]);
  return { name: file.suggestedFilename(), bytes: await bytesOf(file) };
}

/** A picture of a sheet, as the server has it. */
export interface PlacedPicture {
  id: string;
  kind: string;
  name: string;
  order: string;
  deleted: boolean;
  beside?: boolean;
  placement: { cx: number; cy: number; scale: number; turnDeg: number; mirrored: boolean };
  recipe?: {
    id: string;
    kind: string;
    on: boolean;
    corners: number[][];
    width: number;
    height: number;
    points: number[][];
    thresholds: number[];
    amount: number;
    paper: number;
    line: number;
    keep: number;
    specks: number;
  }[];
}

/** The pictures of the open sheet that the server has, bottom first. */
export async function picturesOf(page: Page): Promise<PlacedPicture[]> {
  const { layers } = (await (await asked(page, `/api/sheets/${sheetId(page)}`)).json()) as {
    layers: PlacedPicture[];
  };
  return layers.filter((l) => l.kind === 'reference' && !l.deleted).sort((a, b) => (a.order < b.order ? -1 : 1));
}

/** Writes a picture of 600 x 800 px, its left half of one colour and its right half of another. */
export async function halvesPicture(folder: string, left: string, right: string): Promise<string> {
  const path = join(folder, 'halves.png');
  const half = await sharp({ create: { width: 300, height: 800, channels: 3, background: left } })
    .png()
    .toBuffer();
  await sharp({ create: { width: 600, height: 800, channels: 3, background: right } })
    .composite([{ input: half, left: 0, top: 0 }])
    .png()
    .toFile(path);
  return path;
}
