// The constants of inference in one table, each with where it comes from.
import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { root } from './tools.mjs';

const TUNED = 'size tuned on the tuned half of `bench:rhythm`, order common practice';
const BEATS = 'tuned half of `bench:beats`, order common practice';
const REAL = 'the real files of the tests, order common practice';

/** Where the constants of a file or folder come from; a constant whose own comment says it goes by that. */
const SOURCES = {
  'infer/attacks': `${TUNED}; the untidy demo`,
  'infer/beats': BEATS,
  'infer/beats/pulse.ts': `${BEATS}; the real files of the tests that have no usable grid`,
  'infer/chairs': 'tuned works of `bench:chairs`',
  'infer/form': 'common practice',
  'infer/marks/trills.ts': 'common practice',
  'infer/marks/chords.ts': 'seeds 1 and 2 of `bench:chords`',
  'infer/marks/slurs.ts': '`bench:slurs`; common practice',
  'infer/frets': 'common practice',
  'infer/hands': `${TUNED} (staves)`,
  'infer/key': 'Krumhansl and Kessler (1982), from memory',
  'infer/lead': `${TUNED} (leads)`,
  'infer/lengths/scored.ts': '`bench:returned`; common practice',
  'infer/lengths': `${TUNED} (lengths)`,
  'infer/marks': 'common practice',
  'infer/marks/dynamics.ts': 'tuned half of `bench:marks`, order common practice',
  'infer/marks/loudness.ts': 'by design',
  'infer/key/local-keys.ts': 'tuned half of `bench:spelling`',
  'infer/meter': BEATS,
  'infer/lead/coincidence.ts': 'made bands of `bench:bands`, seeds 1 to 3',
  'infer/rhythm': TUNED,
  'infer/swing': `tuned half of \`bench:rhythm\` and of \`bench:swing\``,
  'infer/voices': `${TUNED} (voices)`,
  'transcribe/hear.ts': TUNED,
  'transcribe/lyrics.ts': 'common practice',
  'transcribe/marks.ts': 'common practice',
  'transcribe/offer-marks.ts': 'common practice',
  'transcribe/write-part.ts': 'by design: how long work goes on without giving way',
  stock: REAL,
  explain: 'by design: what is worth a look',
  engrave: 'by eye',
  notate: 'engraving handbooks, common practice',
  rewrite: 'common practice',
  'notate/spell.ts':
    'order after Longuet-Higgins and Steedman, and Temperley; sizes on the tuned half of `bench:spelling`',
  'notate/notate.ts': 'by design',
  recording:
    'rendered works of `bench:laid` and of the tuned parts of `bench:recordings`, order common practice',
  'recording/mix': 'made songs of `bench:mixes`, seeds 101 to 130, order common practice',
  'recording/mix/arrange.ts': 'General MIDI, and common practice of arrangers',
  'reconcile/same-bars.ts': 'by design: what takes no time to speak of',
  reconcile: 'damaged works of `bench:match`, order common practice',
  proof: 'common practice',
  clean: 'common practice',
  perform: 'common practice',
};

/** What a comment may say of where its constant comes from. */
const OWN = /common practice|from memory|by eye|\((?:19|20)\d\d\)/;
const CONSTANT =
  /(?:\/\*\*((?:(?!\*\/)[\s\S])*)\*\/\n)?(?:export )?const ([A-Z][A-Z0-9_]+)(?:: [^=]+)? = ([^;]+);/g;
const IS_NUMBERS =
  /^[\s\d.,:/*+\-()[\]{}'"_]*(?:QUARTER|WHOLE|SIXTEENTH|as const|[\w']+: |[\s\d.,/*+\-()[\]{}'"_])*$/;

const sourceOf = (path) =>
  SOURCES[
    Object.keys(SOURCES)
      .filter((each) => path === each || path.startsWith(`${each}/`))
      .sort((a, b) => b.length - a.length)[0]
  ];

const core = join(root, 'src/core');
const filesIn = (folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((each) => each.isFile() && each.name.endsWith('.ts') && !each.name.includes('.test.'))
    .map((each) => relative(core, join(each.parentPath, each.name)))
    .sort();

/** All constants that are figures, in the folders that decide about music. @throws Error naming files without a source */
export function constants() {
  const found = [];
  const homeless = new Set();
  for (const folder of [
    'clean',
    'stock',
    'infer',
    'notate',
    'perform',
    'transcribe',
    'explain',
    'engrave',
    'reconcile',
    'proof',
    'recording',
  ])
    for (const path of filesIn(join(core, folder))) {
      const text = readFileSync(join(core, path), 'utf8');
      // One comment may stand for a block of constants below each other.
      let block = '';
      let end = -1;
      for (const match of text.matchAll(CONSTANT)) {
        const [whole, comment, name, value] = match;
        if (!/\d/.test(value) || !IS_NUMBERS.test(value)) continue;
        const follows = text.slice(end, match.index).trim() === '' && end >= 0;
        block = comment ?? (follows ? block : '');
        end = match.index + whole.length;
        const says = block.replaceAll(/\s*\n\s*\*\s?/g, ' ').trim();
        const source = OWN.test(says) ? 'as it says' : sourceOf(path);
        if (!source) homeless.add(path);
        found.push({ path, name, value: value.replaceAll(/\s+/g, ' '), says, source });
      }
    }
  if (homeless.size > 0)
    throw new Error(
      `Say in scripts/constants.mjs where these have their figures from: ${[...homeless].join(', ')}`,
    );
  return found;
}

const cell = (text) => text.replaceAll('|', '\\|');

export function constantsDocument() {
  const all = constants();
  const lines = [
    '# Constants',
    '',
    'Every figure by which music is read, mended, written or shown, and where it comes from.',
    'Made of the code by `npm run docs`; the figures stand where they are used.',
    '“Tuned half”: the works that may be looked at while tuning; the other half only reports.',
    '',
  ];
  let path = '';
  for (const each of all) {
    if (each.path !== path) {
      path = each.path;
      lines.push(`## \`${path}\``, '', '| constant | value | meaning | from |', '|---|---|---|---|');
    }
    lines.push(`| \`${each.name}\` | \`${cell(each.value)}\` | ${cell(each.says)} | ${each.source} |`);
    if (all[all.indexOf(each) + 1]?.path !== path) lines.push('');
  }
  return `${lines.join('\n').trimEnd()}\n`;
}
