// Tries made inputs of a kind on everything that the product does with them: `npm run fuzz -- KIND SECONDS SEED`.
// KIND is one of tests/fuzz/kinds.ts, or all. Each runs in processes with a limit of memory, which are ended when they
// hang. What fails is made small and kept in .dragoman/fuzz; cases that were mended stand in tests/fuzz/cases.
import { fork } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { build } from 'rolldown';
import { root } from './tools.mjs';

const KINDS = {
  // Shares of the time where all are tried.
  smf: 20,
  musicxml: 20,
  brief: 12,
  'score-brief': 10,
  message: 4,
  backup: 6,
  kit: 3,
  'line-up': 3,
  precedents: 3,
  wav: 4,
  flac: 4,
  ogg: 4,
  opus: 4,
  mp3: 3,
  soundfont: 4,
};
const MEGABYTES = 1024;
const HANGS_AFTER = 20_000;
const PROCESSES = Number(process.env.PROCESSES ?? 2);
const MOST_SHRINKING = 40_000;

const [, , wanted = 'all', seconds = '60', seed = '1'] = process.argv;
if (wanted !== 'all' && !Object.hasOwn(KINDS, wanted)) {
  console.error(`No kind “${wanted}”: all, ${Object.keys(KINDS).join(', ')}.`);
  process.exit(2);
}
const kept = join(root, '.dragoman', 'fuzz');
mkdirSync(kept, { recursive: true });
const bundle = join(root, '.dragoman', 'fuzz-child.mjs');
await build({
  input: join(root, 'tests/fuzz/child.ts'),
  platform: 'node',
  tsconfig: join(root, 'tsconfig.json'),
  external: [
    /^@tensorflow/,
    /^@wasm-audio-decoders/,
    'mpg123-decoder',
    'ogg-opus-decoder',
    /^fake-indexeddb/,
  ],
  logLevel: 'warn',
  output: { file: bundle, format: 'esm' },
});

const start = (kind, from, step, file) =>
  fork(bundle, [kind, String(from), String(step), ...(file ? [file] : [])], {
    cwd: root,
    execArgv: [`--max-old-space-size=${MEGABYTES}`],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });

/** Tries a kind for some milliseconds. */
async function tried(kind, milliseconds, first) {
  const sum = { count: 0, outcome: {}, slowest: 0, slowestSeed: -1, most: 0 };
  const failures = new Map();
  const fail = (signature, seed, bytes, stack) => {
    const known = failures.get(signature);
    if (known) known.times++;
    else failures.set(signature, { signature, seed, bytes, stack, times: 1 });
  };
  const until = Date.now() + milliseconds;
  await Promise.all(
    Array.from({ length: PROCESSES }, async (_, at) => {
      let next = first + at;
      while (Date.now() < until) next = await one(next);
    }),
  );
  return { sum, failures: [...failures.values()] };

  /** One process until it ends or is ended. @returns the seed to go on from */
  function one(from) {
    return new Promise((resolve) => {
      const child = start(kind, from, PROCESSES);
      let now = from;
      let heard = Date.now();
      let isOver = false;
      const over = (next) => {
        if (isOver) return;
        isOver = true;
        clearInterval(watch);
        child.kill('SIGKILL');
        resolve(next);
      };
      const watch = setInterval(() => {
        if (Date.now() >= until) return over(now + PROCESSES);
        if (Date.now() - heard < HANGS_AFTER) return;
        fail(`Hangs @ ${kind}`, now, null, `no answer for ${HANGS_AFTER / 1000} s after seed ${now}`);
        over(now + PROCESSES);
      }, 250);
      child.on('message', (message) => {
        heard = Date.now();
        if (message.at !== undefined) now = message.at;
        if (message.failed) {
          now = message.seed;
          fail(message.failed, message.seed, message.bytes, message.stack);
        }
        if (message.batch) {
          const { count, outcome, slowest, slowestSeed, most } = message.batch;
          sum.count += count;
          for (const [name, times] of Object.entries(outcome))
            sum.outcome[name] = (sum.outcome[name] ?? 0) + times;
          if (slowest > sum.slowest) [sum.slowest, sum.slowestSeed] = [slowest, slowestSeed];
          sum.most = Math.max(sum.most, most);
        }
      });
      child.on('exit', (code, signal) => {
        if (!isOver) fail(`Dies (${signal ?? code}) @ ${kind}`, now, null, `after seed ${now}`);
        over(now + PROCESSES);
      });
    });
  }
}

/** What comes of one input in a process of its own. @returns the signature of its failure, or null */
function failureOf(kind, bytes) {
  const file = join(kept, `try-${process.pid}`);
  writeFileSync(file, bytes);
  return new Promise((resolve) => {
    const child = start(kind, 0, 1, file);
    let found = null;
    const timer = setTimeout(() => {
      found = `Hangs @ ${kind}`;
      child.kill('SIGKILL');
    }, HANGS_AFTER);
    child.on('message', ({ failed }) => {
      found = failed ?? null;
    });
    child.on('exit', (code, signal) => {
      clearTimeout(timer);
      rmSync(file, { force: true });
      resolve(found ?? (code === 0 ? null : `Dies (${signal ?? code}) @ ${kind}`));
    });
  });
}

/** The input without all that its failure can do without. */
async function small(kind, bytes, signature) {
  const until = Date.now() + MOST_SHRINKING;
  let now = Uint8Array.from(bytes);
  if ((await failureOf(kind, now)) !== signature) return now;
  for (let size = now.length >> 1; size >= 1 && Date.now() < until; size >>= 1)
    for (let at = 0; at + size <= now.length && Date.now() < until; ) {
      const less = Uint8Array.from([...now.subarray(0, at), ...now.subarray(at + size)]);
      if ((await failureOf(kind, less)) === signature) now = less;
      else at += size;
    }
  return now;
}

const kinds = wanted === 'all' ? Object.keys(KINDS) : [wanted];
const shares = kinds.reduce((all, kind) => all + KINDS[kind], 0);
console.log(`seed ${seed}, ${seconds} s, ${PROCESSES} processes of ${MEGABYTES} MB`);
console.log('| kind | inputs | what came of them | slowest | memory | failures |');
console.log('|-|-|-|-|-|-|');
let all = 0;
const found = [];
for (const kind of kinds) {
  const time = (1000 * Number(seconds) * KINDS[kind]) / shares;
  const { sum, failures } = await tried(kind, time, Number(seed) * 1_000_000);
  all += sum.count;
  const outcome = Object.entries(sum.outcome)
    .map(([name, times]) => `${name} ${times.toLocaleString('en')}`)
    .join(', ');
  console.log(
    `| ${kind} | ${sum.count.toLocaleString('en')} | ${outcome} | ${(sum.slowest / 1000).toFixed(2)} s (seed ${sum.slowestSeed}) | ${Math.round(sum.most / 1e6)} MB | ${failures.length} |`,
  );
  for (const failure of failures) found.push({ kind, ...failure });
}
console.log(`\n${all.toLocaleString('en')} inputs, ${found.length} failures`);
for (const { kind, signature, seed: from, bytes, stack, times } of found) {
  console.log(`\n${kind}, seed ${from}, ${times} times: ${signature}`);
  console.log(String(stack).split('\n').slice(0, 6).join('\n'));
  if (!bytes || process.env.SMALL === '0') continue;
  const path = join(kept, `${kind}-${from}`);
  writeFileSync(path, await small(kind, bytes, signature));
  console.log(`kept, made small: .dragoman/fuzz/${kind}-${from}`);
}
process.exitCode = found.length > 0 ? 1 : 0;
