// Files of the page that are fetched later: what they share goes to the one that the others come after.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Of all later files the first: the sheet's. Whatever another one needs was fetched with it. */
const FIRST = 'index-';
const SHARED = '__common-';

/**
 * The bundler puts what later files share into one that the page fetches at its start, and who opens the drawer would wait
 * for it. Here it becomes a part of the sheet's own file. Names go by what is in a file, so that no kept copy is taken for it.
 * @param dist the built page. @throws {Error} the bundler names its files otherwise.
 */
export function foldShared(dist) {
  const folder = join(dist, '_expo/static/js/web');
  const named = (start) => readdirSync(folder).find((name) => name.startsWith(start) && name.endsWith('.js'));
  const shared = named(SHARED);
  if (!shared) return;
  const [first, entry] = [named(FIRST), named('entry-')];
  if (!first || !entry) throw new Error('the page has no file of the sheet, or no entry');
  const read = (name) => readFileSync(join(folder, name), 'utf8');
  const newFirst = write(folder, FIRST, `${read(shared)}\n${read(first)}`);
  const newEntry = write(folder, 'entry-', read(entry).replaceAll(first, newFirst));
  const page = join(dist, 'index.html');
  const html = readFileSync(page, 'utf8');
  const tag = new RegExp(`<script[^>]*${shared}[^>]*></script>`);
  if (!tag.test(html) || !html.includes(entry)) throw new Error('the page does not name its files');
  writeFileSync(page, html.replace(tag, '').replaceAll(entry, newEntry));
  for (const old of [shared, first, entry]) rmSync(join(folder, old));
}

function write(folder, start, text) {
  const name = `${start}${createHash('md5').update(text).digest('hex')}.js`;
  writeFileSync(join(folder, name), text);
  return name;
}
