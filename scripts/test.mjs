// Everything that must hold: style, types, units and properties, and the real interface in Chromium.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { build, chromium, debian, install, root, run, runTool } from './tools.mjs';

install();
// A batch is tried under GNU parallel.
debian('parallel');
const browser = chromium();
// What is made of packages is there before the tests that need it.
await import('./assets.mjs');
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

/** So many of the slowest tests are told. */
const SLOWEST = 20;

const unitTimes = ({ testResults }) =>
  testResults.flatMap(({ assertionResults }) =>
    assertionResults.map(({ fullName, duration }) => ({ name: fullName, seconds: (duration ?? 0) / 1000 })),
  );

const pageTimes = (suites = []) =>
  suites.flatMap(({ specs = [], suites: inner }) => [
    ...specs.flatMap(({ title, tests: own }) =>
      own.map(({ results: runs }) => ({
        name: title,
        seconds: runs.reduce((sum, { duration }) => sum + duration, 0) / 1000,
      })),
    ),
    ...pageTimes(inner),
  ]);

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
// What a set-up that failed kept from running is in no count of the runner: it failed.
const kept = unit.testResults
  .filter(({ status }) => status === 'failed')
  .map(({ assertionResults }) => assertionResults.filter(({ status }) => status !== 'passed'))
  .map((own) => (own.some(({ status }) => status === 'failed') ? 0 : Math.max(1, own.length)))
  .reduce((sum, count) => sum + count, 0);
const failed = unit.numFailedTests + page.unexpected + kept;
// A process that died takes its tests along.
const unrun = unit.numTotalTests - unit.numPassedTests - unit.numFailedTests - unit.numPendingTests;
const slowest = [...unitTimes(unit), ...pageTimes(JSON.parse(readFileSync(pages, 'utf8')).suites)]
  .sort((one, other) => other.seconds - one.seconds)
  .slice(0, SLOWEST);
console.log('\nThe slowest:');
for (const { seconds, name } of slowest) console.log(`${seconds.toFixed(1).padStart(7)} s  ${name}`);
console.log(`\n${passed} passed, ${failed} failed${unrun > 0 ? `, ${unrun} did not run` : ''}`);
process.exit(codes.some((code) => code !== 0) ? 1 : 0);
