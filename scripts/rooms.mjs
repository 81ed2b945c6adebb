// The rooms of the house from the ground up. A room may import itself and any room above it in this list,
// never one below; `scripts/borders.mjs` enforces it, `docs/architecture.md` shows it.

/** Packages that the core may use: none of them knows a page, a store or a host. */
export const CORE_PACKAGES = [
  '@tensorflow/tfjs-backend-wasm',
  '@tensorflow/tfjs-converter',
  '@tensorflow/tfjs-core',
  'class-transformer',
  'class-validator',
  'fflate',
  'fft.js',
  'libflacjs',
  'papaparse',
  'reflect-metadata',
  'saxes',
  'spessasynth_core',
  'wavefile',
];

/** Packages that draw the page: for the page alone. */
export const PAGE_PACKAGES = [
  '@ant-design/icons',
  '@dnd-kit/core',
  'antd',
  'next',
  'react',
  'react-dom',
  'recharts',
];

/** [folder, what it knows] */
export const ROOMS = [
  ['src/core/basics', 'small helpers without music: search, averages, seeded numbers, counted words'],
  [
    'src/core/model',
    'the nouns: exact time, ids, clock, meter, performance, score, and what lies between the two',
  ],
  [
    'src/core/recording',
    'what a sound file holds: its outline, its pitches, what begins in it, where it lies along a piece, which notes may be heard',
  ],
  ['src/core/instruments', 'the catalogue, name recognition, drum staff places, kit maps'],
  ['src/core/perform', 'score → performance, one file for each concern'],
  ['src/core/sources', 'one folder for each kind of file: bytes ↔ readings'],
  ['src/core/reconcile', 'two readings laid over each other, and the ledger of what agrees'],
  ['src/core/decisions', 'one file for each kind of directive; the brief and what it adds up to'],
  ['src/core/notate', 'the rules of writing: values, ties, beams, accidentals, spelling, clefs'],
  ['src/core/rewrite', 'bars of a document written anew where notes of it change'],
  ['src/core/infer/attacks', 'which notes attack together, and how tidily they were played'],
  ['src/core/infer/beats', 'where the beats are when the file does not know'],
  ['src/core/infer/meter', 'accents, meters, groups of irregular bars'],
  ['src/core/infer/key', 'the key'],
  ['src/core/infer/hands', 'which hand plays a note'],
  ['src/core/infer/rhythm', 'the search over beats, divisions and slots'],
  ['src/core/infer/swing', 'where pairs are long and short'],
  ['src/core/infer/lead', 'how far a strand sounds ahead of the beat'],
  ['src/core/infer/lengths', 'where notes end on paper'],
  ['src/core/infer/voices', 'which voice a note belongs to'],
  ['src/core/infer/chairs', 'which player of a section plays a note'],
  ['src/core/infer/form', 'what of the music comes again'],
  ['src/core/infer/frets', 'strings and frets'],
  ['src/core/infer/marks', 'marks that the playing shows'],
  ['src/core/clean', 'performance → performance, one file for each group of steps; gentle variation'],
  ['src/core/cast', 'which strands make which part'],
  ['src/core/stock', 'what a source holds and what is odd in it'],
  ['src/core/transcribe', 'the order of the steps from performance to score'],
  ['src/core/explain', 'why something was read so, what is doubtful, what the figures say'],
  ['src/core/edit', 'what people do with notes and beats, as decisions'],
  ['src/core/engrave', 'what the engraver is asked: windows and systems'],
  ['src/core/deliver', 'one file for each kind of export'],
  ['src/core/proof', 'what wants a look before hand-over, one file for each check'],
  ['src/core/sound', 'the stand-in bank, timelines, offline rendering'],
  ['src/core/demo', 'the demo piece and the files made from it'],
  ['src/core/workbench', 'the graph from sources and brief to results'],
  ['src/store', 'jobs, sources, briefs and histories in the browser’s database'],
  [
    'src/workers',
    'the workbench, the engraver, the synthesizer and the maker of PDF behind a checked message boundary',
  ],
  ['src/cli', 'the `dragoman` command'],
  ['src/ui', 'one folder for each stage, and what they share'],
  ['src/app', 'thin Next routes'],
];

/** The rooms as a table for docs/architecture.md, the ground floor last. */
export const roomTable = () =>
  `| room | what it knows |\n|---|---|\n${ROOMS.toReversed()
    .map(([folder, knows]) => `| \`${folder}/\` | ${knows} |`)
    .join('\n')}\n`;
