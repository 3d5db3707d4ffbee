import { readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { ensureChromium } from './chromium.mjs';
import { bin, root } from './paths.mjs';

const FLOORS = ['app', 'ui', 'workers', 'server', 'contract', 'core', 'demo', 'bench', 'tests'];

/**
 * The checks in order, cheapest first; Jest last, so that its counts close the run.
 * With arguments only Jest runs, with these (`npm test -- --selectProjects core`).
 */
export async function test({ args, run, built }) {
  if (!args.length) {
    run(bin('prettier'), ['--check', '--log-level', 'warn', '.']);
    run(bin('eslint'), ['--max-warnings', '0', '.']);
    run(bin('tsc'), ['--noEmit', '-p', '.']);
    run(bin('tsc'), ['-p', 'core']);
    run(bin('depcruise'), ['--output-type', 'err', ...FLOORS]);
    importRulesCatch();
    ensureChromium();
    await built();
  }
  const report = join(tmpdir(), `hush-line-jest-${process.pid}.json`);
  const jest = spawnSync(bin('jest'), ['--maxWorkers', '2', '--json', '--outputFile', report, ...args], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: process.env,
  });
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'));
  rmSync(report);
  console.log(`${numPassedTests} passed, ${numFailedTests + numRuntimeErrorTestSuites} failed`);
  process.exit(jest.status ?? 1);
}

/** The import rules must catch a deliberate violation, or they catch nothing. */
function importRulesCatch() {
  const probe = spawnSync(bin('depcruise'), ['--config', join(root, '.dependency-cruiser.cjs'), 'core'], {
    cwd: join(root, 'tests', 'import-rules'),
    encoding: 'utf8',
  });
  if (probe.status === 0 || !probe.stdout.includes('core-imports-core-only')) {
    console.error('The import rules did not catch tests/import-rules/core/reaches-up.ts', probe.stdout, probe.stderr);
    process.exit(1);
  }
}
