/**
 * How sequenced bands are read: `npm run bench:bands`. Made bands of
 * bands/band.ts (drums, bass, guitar, pad, saxophone; six feels), with a delay
 * of everything, early pads, late tunes and kits, gates to the tick or loose
 * holds, strums, files that count other beats, a key that changes and is not
 * told. Truth is known; seeds from 1 (SEED moves them) are not tuned on.
 * Beside it rounding to the nearest of 16ths and triplets.
 */
import { EMPTY_BRIEF } from '../src/core/decisions/brief';
import { areHeard } from '../src/core/decisions/kinds/beats';
import { QUARTER } from '../src/core/model/time';
import { transcribeNow } from '../src/core/transcribe';
import { layOutFile } from '../tests/helpers/desk';
import { BARS, type Band, FEELS, makeBand } from './bands/band';

const PIECES = Number(process.env.PIECES ?? 120);
const SEED = Number(process.env.SEED ?? 1);
/** Leads and delays are right within this, in seconds, and none where nothing is. */
const RIGHT = 0.01;
const NONE = 0.012;

const COUNTS = [
  'bands',
  'notes',
  'places',
  'rounded',
  'pitched',
  'lengths',
  'delayed',
  'delay found',
  'undelayed',
  'delay invented',
  'off',
  'off found',
  'on',
  'on moved',
  'late',
  'late found',
  'even',
  'late invented',
  'swung',
  'swing found',
  'straight',
  'swing invented',
  'bars',
  'keys',
] as const;
type Row = Record<(typeof COUNTS)[number], number>;
const empty = (): Row => Object.fromEntries(COUNTS.map((name) => [name, 0])) as Row;

function measure(band: Band, row: Row): void {
  const desk = layOutFile(band.smf, EMPTY_BRIEF);
  const transcription = transcribeNow(desk.performance, EMPTY_BRIEF);
  const { score, swings, readings } = transcription;
  row.bands++;
  const heard = areHeard(desk.decisions.beats);
  row[band.isOffGrid ? 'off' : 'on']++;
  if (heard) row[band.isOffGrid ? 'off found' : 'on moved']++;
  const quarter = desk.performance.clock.ticksPerQuarter;
  const delay = (transcription.offset * band.seconds) / quarter;
  if (band.delay > 0) {
    row.delayed++;
    if (Math.abs(delay - band.delay) < RIGHT) row['delay found']++;
  } else {
    row.undelayed++;
    if (Math.abs(delay) > NONE) row['delay invented']++;
  }
  const isSwung = band.feel === 'swung' || band.feel === 'swung 16ths' || band.feel === 'shuffle';
  const wanted = band.feel === 'swung 16ths' ? '16th' : 'eighth';
  row[isSwung ? 'swung' : 'straight']++;
  const covered = swings
    .filter(({ value }) => value === wanted)
    .reduce((sum, { from, to }) => sum + to - from, 0);
  if (isSwung && covered > 0.9 * score.bars.length) row['swing found']++;
  if (!isSwung && swings.length > 0) row['swing invented']++;
  // Notes by where they lie in the file.
  const written = new Map(readings.flatMap(({ notes }) => [...notes]));
  const ids = new Map(
    desk.source.strands.flatMap((strand) =>
      strand.notes.map((note) => [`${strand.track} ${note.on} ${note.key}`, note.id] as const),
    ),
  );
  const pairs = band.notes.map((meant) => {
    const id = ids.get(`${meant.part + 1} ${meant.on} ${meant.key}`);
    return { meant, note: id && written.get(id) };
  });
  // Laid along heard beats, bars may begin elsewhere: the usual distance counts as none.
  const apart = new Map<number, number>();
  if (heard)
    for (const { meant, note } of pairs) {
      const by = note ? Math.round((note.start / QUARTER - meant.start) * 2) / 2 : 0;
      apart.set(by, (apart.get(by) ?? 0) + 1);
    }
  const [[shift] = [0]] = [...apart].sort((a, b) => b[1] - a[1]);
  for (const { meant, note } of pairs) {
    row.notes++;
    const place = note ? note.start / QUARTER - shift : Number.NaN;
    if (Math.abs(place - meant.start) < 1e-6) row.places++;
    const at = meant.on / 480;
    const rounded = [4, 3]
      .map((count) => Math.round(at * count) / count)
      .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0]!;
    if (Math.abs(rounded - meant.start) < 1e-6) row.rounded++;
    if (meant.part === 0 || !note) continue;
    row.pitched++;
    if (Math.abs((note.end - note.start) / QUARTER - meant.length) < 1e-6) row.lengths++;
  }
  const parts = ['Drum', 'Bass', 'Guitar', 'String', 'Sax'];
  score.parts.forEach(({ name }, index) => {
    const part = parts.findIndex((word) => name.includes(word));
    const lead = -(readings[index]!.leads[0]?.seconds ?? 0);
    const late = band.late[part] ?? 0;
    if (Math.abs(late) > 0) {
      row.late++;
      if (Math.abs(lead - late) < RIGHT) row['late found']++;
    } else if (band.delay === 0 && !band.isOffGrid) {
      row.even++;
      if (Math.abs(lead) > NONE) row['late invented']++;
    }
  });
  if (!heard)
    for (let bar = 0; bar < BARS; bar++) {
      row.bars++;
      const { fifths } = score.keys.findLast((key) => key.bar <= bar)!;
      // Seven flats are five sharps.
      if ((fifths - band.keys[bar]!) % 12 === 0) row.keys++;
    }
}

const rows = new Map<string, Row>([...FEELS, 'all'].map((name) => [name, empty()]));
for (let piece = 0; piece < PIECES; piece++) {
  const band = makeBand(SEED * 1000 + piece);
  const one = empty();
  measure(band, one);
  if (process.env.BY && one.places < 0.98 * one.notes)
    console.log(
      SEED * 1000 + piece,
      band.feel,
      band.isOffGrid ? 'off' : '',
      band.delay.toFixed(3),
      band.late.map((each) => each.toFixed(3)).join(' '),
      `${one.places}/${one.notes}`,
    );
  for (const name of [band.feel, 'all']) for (const count of COUNTS) rows.get(name)![count] += one[count];
}
const share = (part: number, all: number) => (all === 0 ? '–' : ((100 * part) / all).toFixed(2));
console.log(`${PIECES} bands of ${BARS} bars, seed ${SEED}`);
console.table(
  Object.fromEntries(
    [...rows].map(([name, row]) => [
      name,
      {
        'position %': share(row.places, row.notes),
        rounded: share(row.rounded, row.notes),
        'length %': share(row.lengths, row.pitched),
        delays: `${row['delay found']}/${row.delayed}`,
        'delays invented': `${row['delay invented']}/${row.undelayed}`,
        'other beats': `${row['off found']}/${row.off}`,
        'beats moved': `${row['on moved']}/${row.on}`,
        'late parts': `${row['late found']}/${row.late}`,
        'late invented': `${row['late invented']}/${row.even}`,
        swing: `${row['swing found']}/${row.swung}`,
        'swing invented': `${row['swing invented']}/${row.straight}`,
        'key %': share(row.keys, row.bars),
      },
    ]),
  ),
);
