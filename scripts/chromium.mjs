import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const CHROMIUM = process.env.HUSH_CHROMIUM ?? '/usr/bin/chromium';

/** Makes sure that there is a Chromium for the browser tests: from Debian's packages when we may. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return;
  const mayInstall = existsSync('/usr/bin/apt-get') && process.getuid?.() === 0;
  if (mayInstall) {
    console.log("Installing Chromium from Debian's packages");
    const quiet = {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    };
    spawnSync('apt-get', ['update', '-q'], quiet);
    spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', 'chromium'], quiet);
  }
  if (existsSync(CHROMIUM)) return;
  console.error(
    'The browser tests need Chromium at /usr/bin/chromium (or at the path in HUSH_CHROMIUM).\nOn Debian: sudo apt-get install chromium',
  );
  process.exit(1);
}
