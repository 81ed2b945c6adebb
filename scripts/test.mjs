// Everything that must hold: style, types, units and properties, and the real interface in Chromium.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, chromium, install, root, run, runTool } from './tools.mjs';

install();
const browser = chromium();
const results = join(root, '.dragoman', 'results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

runTool('@biomejs/biome/bin/biome', ['check', '.']);
runTool('typescript/bin/tsc', ['--noEmit']);
runTool('knip/bin/knip.js', []);
run(process.execPath, [join(root, 'scripts/borders.mjs')]);

/** Runs a test runner to its end whatever it finds, so that the closing count covers all. */
function tests(script, args, env) {
  console.log(`\n> ${script} ${args.join(' ')}`);
  return spawnSync(process.execPath, [join(root, 'node_modules', script), ...args], {
    cwd: root,
    stdio: 'inherit',
    env: { ...process.env, ...env },
  }).status;
}

const units = join(results, 'units.json');
const pages = join(results, 'pages.json');
const codes = [
  tests('vitest/vitest.mjs', ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${units}`]),
];
build();
codes.push(
  tests('@playwright/test/cli.js', ['test'], { CHROMIUM: browser, PLAYWRIGHT_JSON_OUTPUT_NAME: pages }),
);

const unit = JSON.parse(readFileSync(units, 'utf8'));
const page = JSON.parse(readFileSync(pages, 'utf8')).stats;
const passed = unit.numPassedTests + page.expected + page.flaky;
const failed = unit.numFailedTests + page.unexpected;
// A process that died takes its tests along.
const unrun = unit.numTotalTests - unit.numPassedTests - unit.numFailedTests - unit.numPendingTests;
console.log(`\n${passed} passed, ${failed} failed${unrun > 0 ? `, ${unrun} did not run` : ''}`);
process.exit(codes.some((code) => code !== 0) ? 1 : 0);
