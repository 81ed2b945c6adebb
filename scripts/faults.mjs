// Faults in the page: `npm run faults -- COUNT SEED`. A job is worked on in the built application while the browser is killed,
// workers die, scripts are missing, rows of the database are damaged, the storage is full, two tabs decide, and the clock is
// set back. After each fault everything that was kept is there, but for the decision under way, or a sentence says what is not.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium as browserType } from '@playwright/test';
import { build, CHROMIUM_ARGUMENTS, chromium, root } from './tools.mjs';

const [, , count = '40', seed = '1'] = process.argv;
const PORT = '4706';
const address = `http://localhost:${PORT}`;
const profile = mkdtempSync(join(tmpdir(), 'dragoman-faults-'));

/** Numbers from 0 to 1 (mulberry32, public domain). */
function seeded(from) {
  let state = from >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}
const random = seeded(Number(seed));
const below = (most) => Math.floor(random() * most);

build();
const server = spawn(process.execPath, [join(root, 'scripts/serve.mjs')], {
  env: { ...process.env, PORT },
  stdio: 'ignore',
});

/** A browser process of its own, which can be killed as a crash would. */
async function opened() {
  const process_ = spawn(
    chromium(),
    [...CHROMIUM_ARGUMENTS, '--headless=new', '--remote-debugging-port=0', `--user-data-dir=${profile}`],
    { stdio: ['ignore', 'ignore', 'pipe'] },
  );
  const url = await new Promise((resolve, reject) => {
    let said = '';
    process_.stderr.on('data', (chunk) => {
      said += chunk;
      const found = /DevTools listening on (ws:\S+)/.exec(said);
      if (found) resolve(found[1]);
    });
    process_.on('exit', () => reject(new Error(`The browser did not start: ${said.slice(-300)}`)));
  });
  const browser = await browserType.connectOverCDP(url);
  const context = browser.contexts()[0];
  const page = await context.newPage();
  await page.setViewportSize({ width: 1280, height: 800 });
  return { process_, browser, context, page };
}

const killed = async ({ process_, browser }) => {
  const gone = new Promise((resolve) => process_.on('exit', resolve));
  process_.kill('SIGKILL');
  await gone;
  await Promise.race([browser.close().catch(() => {}), new Promise((resolve) => setTimeout(resolve, 2000))]);
};

const title = (page) => page.getByLabel('Title of the score');
const shownTitle = async (page) => {
  await title(page).waitFor({ timeout: 60_000 });
  return title(page).inputValue();
};
const deliver = async (page) => {
  await page.goto(`${address}/job/demo/deliver`);
  await shownTitle(page);
};
/** Whatever was kept is shown, once the score is written. */
const shows = async (page, text) => {
  let shown = '';
  await until(
    async () => {
      shown = await shownTitle(page);
      return shown === text;
    },
    () => `“${shown}” is shown, but “${text}” was kept`,
  );
};
/** Writes a title and leaves the field. */
const decide = async (page, text) => {
  await title(page).fill(text);
  await title(page).press('Enter');
};
/** The decisions that the database keeps. */
const keptDirectives = (page) =>
  page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        const asked = indexedDB.open('dragoman');
        asked.onerror = () => reject(asked.error);
        asked.onsuccess = () => {
          const get = asked.result.transaction('briefs').objectStore('briefs').get('demo');
          get.onsuccess = () => {
            asked.result.close();
            resolve(get.result?.brief?.directives ?? []);
          };
        };
      }),
  );
/** The title that the database keeps. */
const keptTitle = async (page) =>
  (await keptDirectives(page)).filter((each) => each?.kind === 'title').at(-1)?.title ?? '';
async function until(isTrue, what) {
  const end = Date.now() + 30_000;
  while (Date.now() < end) {
    if (await isTrue()) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(typeof what === 'string' ? what : what());
}
/** A fault that is not over by then has hung the page. */
const within = (work) =>
  Promise.race([
    work,
    new Promise((_, reject) => setTimeout(() => reject(new Error('Hangs.')), 90_000).unref()),
  ]);
const must = (isTrue, what) => {
  if (!isTrue) throw new Error(what);
};

let session = await opened();
for (let attempt = 0; ; attempt++)
  try {
    await session.page.goto(address);
    break;
  } catch (error) {
    // The server takes a moment to be there.
    if (attempt > 30) throw error;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
await session.page.getByRole('link', { name: 'Lantern Ferry', exact: true }).waitFor({ timeout: 60_000 });
await deliver(session.page);
let kept = 'Lantern Ferry';
let number = 0;
const next = () => `Cue ${++number}`;
const settle = async (text) => {
  await decide(session.page, text);
  await until(async () => (await keptTitle(session.page)) === text, `“${text}” was not kept`);
  kept = text;
};

/** Changes rows while no job is open, and opens it. */
const damagedWhile = async (change, look) => {
  const { page } = session;
  await page.goto(`${address}/licences`);
  // As an expression: the page's own policy lets no text become code.
  await page.evaluate(`new Promise((resolve, reject) => {
    const asked = indexedDB.open('dragoman');
    asked.onerror = () => reject(asked.error);
    asked.onsuccess = () => {
      const database = asked.result;
      const names = ['sources', 'briefs', 'steps', 'results'];
      const change = database.transaction(names, 'readwrite');
      const stores = Object.fromEntries(names.map((name) => [name, change.objectStore(name)]));
      ${change}
      change.oncomplete = () => {
        database.close();
        resolve();
      };
      change.onerror = () => reject(change.error);
    };
  })`);
  await page.goto(`${address}/job/demo/deliver`);
  await look(page);
};

/** What was kept is shown, and it is said what of it cannot be read. */
const saysUnread = async (page) => {
  await shows(page, kept);
  await page
    .getByText(/cannot be read/)
    .first()
    .waitFor({ timeout: 30_000 });
};

const FAULTS = {
  'browser killed while a decision is under way': async () => {
    const text = next();
    await decide(session.page, text);
    await new Promise((resolve) => setTimeout(resolve, below(120)));
    await killed(session);
    session = await opened();
    await deliver(session.page);
    const found = (await keptTitle(session.page)) || kept;
    must(found === text || found === kept, `“${found}” after “${kept}” and “${text}”`);
    kept = found;
    await shows(session.page, kept);
  },
  'browser killed once a decision was kept': async () => {
    await settle(next());
    await killed(session);
    session = await opened();
    await deliver(session.page);
    await shows(session.page, kept);
  },
  'page loaded again in the midst of a name': async () => {
    const text = next();
    await title(session.page).fill(text);
    await session.page.reload();
    await until(async () => (await shownTitle(session.page)) === text, `“${text}” is lost`);
    await until(async () => (await keptTitle(session.page)) === text, `“${text}” was not kept`);
    kept = text;
  },
  'all workers killed': async () => {
    for (const worker of session.page.workers()) await worker.evaluate(() => self.close()).catch(() => {});
    await settle(next());
    await shows(session.page, kept);
  },
  'no worker can be loaded': async () => {
    const { page } = session;
    await page.route('**/workers/**', (route) => route.abort());
    await page.goto(`${address}/job/demo/deliver`);
    await page
      .getByText(/could not be loaded/)
      .first()
      .waitFor({ timeout: 30_000 });
    await page.unroute('**/workers/**');
    await deliver(page);
    await shows(page, kept);
  },
  'storage full at a decision': async () => {
    const { page } = session;
    await page.evaluate(() => {
      for (const name of ['put', 'add']) {
        const own = IDBObjectStore.prototype[name];
        IDBObjectStore.prototype[name] = () => {
          throw new DOMException('full', 'QuotaExceededError');
        };
        window[`own ${name}`] = own;
      }
    });
    await decide(page, next());
    await page.getByText('The decision was not kept').first().waitFor({ timeout: 30_000 });
    await shows(page, kept);
    await page.evaluate(() => {
      for (const name of ['put', 'add']) IDBObjectStore.prototype[name] = window[`own ${name}`];
    });
    await settle(next());
  },
  'two tabs decide': async () => {
    const other = await session.context.newPage();
    await other.goto(`${address}/job/demo/deliver`);
    await shownTitle(other);
    const composer = `Somebody ${number}`;
    const text = next();
    await Promise.all([
      decide(session.page, text),
      (async () => {
        await other.getByLabel('Composer').fill(composer);
        await other.getByLabel('Composer').press('Enter');
      })(),
    ]);
    await until(async () => (await keptTitle(session.page)) === text, `“${text}” was not kept`);
    await until(
      async () => (await session.page.getByLabel('Composer').inputValue()) === composer,
      'the other tab’s decision is lost',
    );
    kept = text;
    await other.close();
  },
  'clock set back': async () => {
    const { page } = session;
    await page.evaluate(() => {
      const now = Date.now;
      Date.now = () => now() - 9e8;
    });
    await settle(next());
    await deliver(page);
    await shows(page, kept);
  },
  'a bit of the source flipped': () =>
    damagedWhile(
      `const all = stores.sources.getAll(); all.onsuccess = () => { const row = all.result.find((each) => each.jobId === 'demo'); row.bytes[${below(2000)}] ^= ${1 << below(8)}; stores.sources.put(row); };`,
      async (page) => {
        await page
          .getByText(/is damaged/)
          .first()
          .waitFor({ timeout: 30_000 });
        await page.getByRole('button', { name: 'Open it anyway' }).waitFor();
      },
    ),
  'the brief is gone to pieces': () =>
    damagedWhile(
      `const get = stores.briefs.get('demo'); get.onsuccess = () => stores.briefs.put({ ...get.result, brief: ${['null', '7', '{}', '{ directives: 3 }'][below(4)]} });`,
      (page) => shows(page, kept),
    ),
  'a decision is gone to pieces': () =>
    damagedWhile(
      `const get = stores.briefs.get('demo'); get.onsuccess = () => { const { directives } = get.result.brief; stores.briefs.put({ ...get.result, brief: { ...get.result.brief, directives: [${['null', '{ kind: 7 }', '{ kind: "x" }', '"x"'][below(4)]}, ...directives] } }); };`,
      saysUnread,
    ),
  'a newer version decided something': () =>
    damagedWhile(
      `const get = stores.briefs.get('demo'); get.onsuccess = () => stores.briefs.put({ ...get.result, brief: { ...get.result.brief, version: 3, directives: [...get.result.brief.directives, { kind: "of-a-newer-version", depth: ${below(9)} }] } });`,
      async (page) => {
        await saysUnread(page);
        await settle(next());
        const said = await keptDirectives(page);
        must(
          said.some(({ kind }) => kind === 'of-a-newer-version'),
          'what a newer version decided is lost',
        );
      },
    ),
  'what was worked out is damaged': () =>
    damagedWhile(
      `const get = stores.results.get('demo'); get.onsuccess = () => get.result && stores.results.put({ ...get.result, value: ${['null', '7', '{}', '{ score: 1, readings: 2, frame: 3 }'][below(4)]} });`,
      (page) => shows(page, kept),
    ),
};

/** The job as it came, with the title that was kept last. */
async function renewed() {
  const { page } = session;
  await page.goto(`${address}/licences`);
  await page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        localStorage.clear();
        const asked = indexedDB.deleteDatabase('dragoman');
        asked.onsuccess = () => resolve();
        asked.onerror = () => reject(asked.error);
        asked.onblocked = () => reject(new Error('The database is in use.'));
      }),
  );
  await page.goto(address);
  await page.getByRole('link', { name: 'Lantern Ferry', exact: true }).waitFor({ timeout: 30_000 });
  await deliver(page);
  await settle(next());
}

const names = Object.keys(FAULTS).filter((name) => name.includes(process.env.ONLY ?? ''));
const table = new Map(names.map((name) => [name, { tried: 0, failed: [] }]));
for (let at = 0; at < Number(count); at++) {
  const name = at < names.length ? names[at] : names[below(names.length)];
  const row = table.get(name);
  row.tried++;
  try {
    process.stderr.write(`${at + 1}: ${name}\n`);
    await within(FAULTS[name]());
    if (/flipped|pieces|damaged|newer/.test(name)) await renewed();
  } catch (error) {
    row.failed.push(String(error.message).split('\n')[0]);
    if (process.env.SHOT)
      await session.page.screenshot({ path: `${process.env.SHOT}-${at}.png` }).catch(() => {});
    await killed(session).catch(() => {});
    session = await opened();
    await renewed().catch(() => {});
  }
}
console.log(`seed ${seed}\n| fault | tried | failed |\n|-|-|-|`);
let failed = 0;
for (const [name, row] of table) {
  failed += row.failed.length;
  console.log(`| ${name} | ${row.tried} | ${row.failed.length} |`);
}
for (const [name, row] of table) for (const why of new Set(row.failed)) console.log(`${name}: ${why}`);
await killed(session).catch(() => {});
server.kill();
rmSync(profile, { recursive: true, force: true });
process.exitCode = failed > 0 ? 1 : 0;
