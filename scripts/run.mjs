// The one door to every command: installs what is missing first, so that a fresh machine needs nothing else.
// Usage: node scripts/run.mjs demo | start | dev | test | bench | demo:make | shots
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync, writeFileSync, mkdirSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
process.chdir(root);
const [command, ...rest] = process.argv.slice(2);

ensureNode();
ensurePackages();
const { commands } = await import('./commands.mjs');
const chosen = commands[command];
if (!chosen) fail(`no command ${command}; there are ${Object.keys(commands).join(', ')}`);
await chosen(rest);

function ensureNode() {
  const major = Number(process.versions.node.split('.')[0]);
  if (major < 20) fail(`Hush Line needs Node 20 or later; this is ${process.versions.node}`);
}

/** `npm ci` when the lock has changed since the last one. */
function ensurePackages() {
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  const stamp = join('node_modules', '.hush-line-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing the packages (a few minutes the first time)');
  const done = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], {
    stdio: 'inherit',
    shell: process.platform === 'win32',
  });
  if (done.status !== 0) fail('npm ci failed; see above');
  mkdirSync('node_modules', { recursive: true });
  writeFileSync(stamp, lock);
}

function fail(message) {
  console.error(message);
  process.exit(1);
}
