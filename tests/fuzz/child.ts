import 'reflect-metadata';
import { readFileSync } from 'node:fs';
import { Chance } from './chance';
import { FUZZ_KINDS } from './kinds';

// One process of the harness (`npm run fuzz`): tries inputs until it is ended. FROM is the first seed, every STEPth is tried.
// With FILE it tries that alone.

const [, , name = '', from = '0', step = '1', file] = process.argv;
const kind = FUZZ_KINDS[name];
if (!kind) throw new Error(`No kind: ${name}`);
const say = (message: object) => process.send?.(message);

/** Where an error came about: its message without figures, and the first place of this program. */
function signatureOf(error: unknown): string {
  const { message, stack = '' } = error as Error;
  const place = stack.split('\n').find((line) => /^\s+at /.test(line) && !/must|told/.test(line)) ?? '';
  const where = /at (?:async )?([\w.<>$ ]+)/.exec(place)?.[1] ?? '';
  return `${String(message).replace(/\d+/g, '#').slice(0, 160)} @ ${where.trim()}`;
}

/** Milliseconds that the most bars there are may take, and each byte. */
const MOST_FOR_BARS = 12_000;
const MOST_FOR_BYTE = 0.3;

if (file) {
  try {
    say({ came: await kind.through(new Uint8Array(readFileSync(file))) });
  } catch (error) {
    say({ failed: signatureOf(error), stack: (error as Error).stack });
  }
  process.exit(0);
}

const fresh = () => ({
  outcome: {} as Record<string, number>,
  slowest: 0,
  slowestSeed: -1,
  most: 0,
  count: 0,
});
let batch = fresh();
let told = Date.now();
for (let seed = Number(from); ; seed += Number(step)) {
  let bytes: Uint8Array | undefined;
  try {
    bytes = await kind.make(new Chance(seed));
    // The parent knows what is being tried, should this process not live to tell.
    if (bytes.length > 400 || Date.now() - told > 50) say({ at: seed });
    const made = performance.now();
    const outcome = await kind.through(bytes);
    const took = performance.now() - made;
    batch.outcome[outcome] = (batch.outcome[outcome] ?? 0) + 1;
    if (took > batch.slowest) [batch.slowest, batch.slowestSeed] = [took, seed];
    // Twice as large may take twice as long, and no more; a few bytes can say ten thousand bars, which are the most.
    const bound = MOST_FOR_BARS + MOST_FOR_BYTE * bytes.length;
    if (took > bound)
      say({
        seed,
        bytes: [...bytes],
        failed: `Slow: over its bound @ ${name}`,
        stack: `${Math.round(took)} ms for ${bytes.length} bytes`,
      });
  } catch (error) {
    batch.outcome.failed = (batch.outcome.failed ?? 0) + 1;
    say({ seed, bytes: [...(bytes ?? [])], failed: signatureOf(error), stack: (error as Error).stack });
  }
  batch.count++;
  batch.most = Math.max(batch.most, process.memoryUsage.rss());
  if (Date.now() - told > 500) {
    say({ batch });
    batch = fresh();
    told = Date.now();
    await new Promise((resolve) => setImmediate(resolve));
  }
}
