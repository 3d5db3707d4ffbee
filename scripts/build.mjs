// Builds the page (dist/) and the server (build/server.cjs).
import { execFileSync } from 'node:child_process';
import { build } from 'esbuild';
import { root, bin } from './paths.mjs';

export async function buildServer() {
  await build({
    entryPoints: [`${root}/server/main.ts`],
    outfile: `${root}/build/server.cjs`,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    external: ['better-sqlite3', 'sharp', 'pino'],
    logLevel: 'warning',
  });
}

export function buildPage() {
  execFileSync(bin('expo'), ['export', '-p', 'web', '--output-dir', 'dist', '--max-workers', '2'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1', CI: '1' },
  });
}
