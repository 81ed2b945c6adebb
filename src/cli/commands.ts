import { existsSync, statSync, writeFileSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { finished } from '../core/basics/steps';
import { counted } from '../core/basics/words';
import { lineUpOf } from '../core/cast/line-up-of';
import { LINE_UPS, type LineUp, layLineUp, readLineUp } from '../core/cast/line-ups';
import { BadPrecedentsError, offersFor, type Precedent, parsePrecedents } from '../core/cast/precedents';
import { plansOf } from '../core/cast/written';
import { type Brief, EMPTY_BRIEF } from '../core/decisions/brief';
import { decide, withDirectives } from '../core/decisions/decisions';
import { APART, FORMS, NOTE_TIMES } from '../core/decisions/kinds/hand-over';
import { LAYOUTS, PITCHES } from '../core/decisions/kinds/score-form';
import { listedForm } from '../core/explain/form';
import { listedMarks } from '../core/explain/marks';
import { FIRST_SOURCE } from '../core/model/ids';
import { OFFERED } from '../core/model/offers';
import { DYNAMICS } from '../core/perform/settings';
import { BadSourceError, readSource } from '../core/sources';
import { spelledDivision } from '../core/sources/smf/events';
import type { Inventory } from '../core/stock/inventory';
import type { Told, Transcription } from '../core/transcribe';
import type { HeardStock, MarkUse, Stock } from '../core/workbench/replies';
import { stockOf } from '../core/workbench/stock';
import type { Workbench } from '../core/workbench/workbench';
import { batch } from './batch';
import { compareFiles } from './compare';
import { hearRecordings, openFile, readBrief, readFile, sayRefusals } from './files';
import { CONVERTED, handedOver } from './hand-over';
import { packet } from './packet';
import { proof } from './proof';
import { isKnown, UsageError, whyOf } from './usage-error';

const USAGE = `Usage:
  dragoman inspect FILE [--json] [--heard] [--brief BRIEF.json]
  dragoman convert FILE… --to musicxml|mxl|pdf [--pitch written|concert] [--layout kept|left-out]
                   [--marks KINDS] [--repeats folded] [--brief BRIEF.json] -o OUT
  dragoman convert FILE… --to midi [--only plain|full|clock|loops] [--times played|written|places]
                   [--apart techniques,players,hands] [--files each] [--dynamics velocity|both|curve|none] [--no-repeats]
                   [--brief BRIEF.json] -o OUT
  dragoman proof FILE [--brief BRIEF.json] [--json]
  dragoman compare FILE FILE [--csv | --json]
  dragoman batch FOLDER --to musicxml|mxl|midi|pdf|packet [--brief BRIEF.json] [--workers N]
                 [--share K/N] [--limit SECONDS] -o FOLDER
  dragoman packet FILE… [--brief BRIEF.json] [--mxl] [--rate 24|25|29.97|30] [--start 00:00:00:00] -o OUT
  dragoman stems FILE [--by part|family|all] [--heard source|cleaned|score-played|score-performed|score]
                 [--format wav|flac] [--rate 48000|44100] [--bits 16|24] [--bank BANK.sf2] [--brief BRIEF.json] -o FOLDER

proof says what wants a look before hand-over, and how far source, score and what goes out agree;
  compare lays two files over each other, scores or performances, note by note. Both end with 0
  where all agrees and nothing is wrong, with 1 where not, with 2 for what cannot be read.
packet makes one zip of score, parts, MIDI files, bar table, proof sheet, brief and a manifest of each FILE;
  --rate and --start are frames a second (29.97 drops frame numbers) and time code of the bar table.
stems renders a sound file of each part or family, all of one length from one start, and the
  reverberation that they share; all of them added are the whole. Bars before it and a click are as the brief hands MIDI over.
batch makes something of every file of a folder and what lies in it, on all cores, and report.csv and
  report.json of what became of each; ended at any moment it goes on where it was (docs/batch.md).
--marks writes what the playing of a performance shows: dynamics, hairpins, accents, pedal,
  arpeggios, tremolos, trills, ghosts, bends, chords, rehearsals, several with commas, or all; --heard
  lists them, and what comes again.
--repeats folded writes what is played again as repeats, endings, D.C. and D.S.
--precedents FILE.json decides for strands whose names it knows, where the brief does not.
--line-up FILE is laid over the parts: a line-up as JSON, the name of a standing one ("Big band"),
  or a MIDI file or score whose parts are the template. With --keep-empty, places that nobody
  takes become parts that rest.
FILE is a Standard MIDI File, a MusicXML score, or a recording (WAV, FLAC, Ogg or MP3) whose notes are
  heard: as midi with --times played it comes raw, with --times written tidied.
OUT is a file for one FILE, a folder for several. A hand-over as midi takes its
settings from the brief; the options override them. --apart says what has
tracks of its own, of performances hands alone; --dynamics and --no-repeats how a score is played. Loops, and
each track in a file of its own (--files each), are written as a zip.`;

function inspect(args: string[]): void {
  const { values, positionals } = parseArgs({
    args,
    options: {
      json: { type: 'boolean', default: false },
      heard: { type: 'boolean', default: false },
      brief: { type: 'string' },
    },
    allowPositionals: true,
  });
  const [path, ...rest] = positionals;
  if (!path || rest.length > 0) throw new UsageError('inspect takes one file.');
  const brief = values.brief ? readBrief(values.brief) : EMPTY_BRIEF;
  const workbench = openFile(path);
  const state = workbench.layOut(0, brief);
  sayRefusals(path, state.desk);
  const { inventory, kind, marks, heard: sound } = finished(stockOf(state));
  const written = values.heard ? finished(workbench.write(0)) : null;
  const heard = written && heardIn(written.transcription, finished(workbench.tell(written)));
  const recording = sound && { ...sound, notes: state.desk.heard?.taken.notes };
  const facts = {
    kind,
    ...inventory,
    ...(marks && { marks }),
    ...(heard && { heard }),
    ...(recording && { recording }),
  };
  process.stdout.write(
    values.json
      ? `${JSON.stringify(facts, null, 1)}\n`
      : (sound ? recordingText(sound) : '') +
          described(path, inventory, kind, marks) +
          (heard ? heardText(heard) : ''),
  );
}

function recordingText({ facts, tuning, read, taken, doubtful }: HeardStock): string {
  const off = Math.round(tuning);
  return `recording of ${facts.seconds.toFixed(1)} s: ${counted(taken, 'note')} heard as ${read === 'line' ? 'one line' : 'many notes at once'}, ${doubtful} of them doubtful; ${off === 0 ? 'tuned to 440 Hz' : `tuned ${Math.abs(off)} cents ${off > 0 ? 'above' : 'below'} 440 Hz`}${facts.clipped > 0 ? '; clipped' : ''}${facts.lost ? `; ${counted(facts.lost, 'sample')} of it no numbers, taken for silence` : ''}\n`;
}

/** What the playing shows of marks, and what comes again; places by printed bars. */
function heardIn(transcription: Transcription, told: Told) {
  const { score } = transcription;
  const numberOf = (bar: number) => score.bars[bar]?.number;
  return {
    marks: listedMarks(told, transcription).map(({ part, at, to, tick: _, heard, margin, ...mark }) => ({
      part: score.parts[part]?.name,
      bar: numberOf(at.bar),
      quarters: at.quarters,
      ...mark,
      heard,
      margin: Number.isFinite(margin) ? margin : null,
      ...(to && { to: { bar: numberOf(to.bar), quarters: to.quarters } }),
    })),
    again: listedForm(told, transcription).map(({ bar, again, tick: _, ...form }) => ({
      bar: numberOf(bar),
      again: numberOf(again),
      ...form,
    })),
  };
}

function heardText({ marks, again }: ReturnType<typeof heardIn>): string {
  const counts = OFFERED.flatMap((kind) => {
    const count = marks.filter((mark) => mark.kind === kind).length;
    return count > 0 ? [`${kind} ${count}`] : [];
  });
  return [
    `heard: ${counts.join(', ') || 'no marks'}`,
    ...again.map(
      ({ bar, again: later, length, sign }) =>
        `comes again: ${counted(length, 'bar')} from ${bar}, at ${later}: ${sign}`,
    ),
    '',
  ].join('\n');
}

/** Names with how often each. */
const listed = (uses: readonly MarkUse[]): string =>
  uses.map(({ name, count, as }) => `${name} ${count}${as ? ` as ${as}` : ''}`).join(', ') || 'none';

function described(path: string, inventory: Inventory, kind: Stock['kind'], marks: Stock['marks']): string {
  const { clock, strands, noteFree, mends, oddities } = inventory;
  const division = inventory.division && spelledDivision(inventory.division);
  const lines = [
    kind === 'score'
      ? `${basename(path)}: MusicXML score, ${clock.bars} bars as played, ${clock.seconds.toFixed(1)} s`
      : kind === 'recording'
        ? `${basename(path)}: recording, ${clock.bars} bars as beats are heard, ${clock.seconds.toFixed(1)} s`
        : `${basename(path)}: format ${inventory.format}, ${division}, ${clock.bars} bars, ${clock.seconds.toFixed(1)} s`,
    `${clock.tempos.length} tempos, ${clock.meters.length} meters, ${clock.keys.length} keys, ${clock.markers.length} markers`,
    '',
    ...strands.map((strand) =>
      [
        strand.id.padEnd(9),
        (strand.name || '(no name)').slice(0, 28).padEnd(29),
        `${strand.notes} notes`.padStart(11),
        `  ${strand.lowest}–${strand.highest}`.padEnd(10),
        `at most ${strand.most}`.padEnd(12),
        [strand.guess.name, strand.guess.number, strand.guess.technique, `(${strand.guess.confidence})`]
          .filter((each) => each !== null)
          .join(' '),
      ].join(''),
    ),
    ...noteFree.map((track) => `track ${track.track + 1}: "${track.name}" has no notes`),
    ...oddities.map((oddity) => `${oddity.strand ?? 'whole piece'}: ${oddity.what}`),
    ...(marks
      ? [
          `marks that sound: ${listed(marks.became)}`,
          `marks that are not played out: ${listed(marks.silent)}`,
          `elements without a place here: ${listed(marks.lost)}`,
        ]
      : []),
    ...mends.map((mend) =>
      kind === 'score'
        ? `mended: ${mend.what}. ${mend.done}`
        : `mended at byte ${mend.at}: ${mend.what} ${mend.done}`,
    ),
  ];
  return `${lines.join('\n')}\n`;
}

function readPrecedents(path: string): Precedent[] {
  try {
    return parsePrecedents(Buffer.from(readFile(path)).toString('utf8'));
  } catch (error) {
    if (error instanceof BadPrecedentsError) throw new UsageError(error.message);
    throw error;
  }
}

/** A brief with what precedents decide for the strands of a file. */
function withPrecedents(workbench: Workbench, brief: Brief, precedents: readonly Precedent[]): Brief {
  if (precedents.length === 0) return brief;
  const { inventory } = finished(stockOf(workbench.layOut(0, brief)));
  const offers = offersFor(inventory.strands, decide(brief), precedents);
  return withDirectives(
    brief,
    offers.flatMap(({ directives }) => directives),
  );
}

/** A line-up of a file, or a standing one by its name. */
function lineUpCalled(name: string): LineUp {
  const standing = LINE_UPS.find((each) => each.name.toLowerCase() === name.toLowerCase());
  if (standing) return standing;
  if (!existsSync(name))
    throw new UsageError(
      `${name} is neither a file nor a standing line-up: ${LINE_UPS.map((each) => each.name).join(', ')}.`,
    );
  const bytes = readFile(name);
  const text = new TextDecoder().decode(bytes);
  try {
    if (/^\s*[{[]/.test(text)) return readLineUp(text);
    return lineUpOf(readSource({ id: FIRST_SOURCE, version: 1, name: basename(name), bytes }));
  } catch (error) {
    if (!(error instanceof BadSourceError)) throw new UsageError((error as Error).message);
    throw new UsageError('This is no line-up: it is neither JSON nor a file of music.');
  }
}

/** A brief with what laying a line-up over the parts of a file decides; places without a part are said. */
function withLineUp(
  path: string,
  workbench: Workbench,
  brief: Brief,
  lineUp: LineUp,
  keepsEmpty: boolean,
): Brief {
  const { desk } = workbench.layOut(0, brief);
  const middles = new Map(
    desk.performance.strands.map(({ id, lowest, highest }) => [id, (lowest + highest) / 2]),
  );
  const parts = plansOf(desk.performance, desk.decisions, desk.written?.score.parts ?? null).map((plan) => ({
    strand: plan.leader,
    name: plan.name,
    instrument: plan.instrument.id,
    middle: middles.get(plan.leader) ?? null,
  }));
  const { places, directives } = layLineUp(lineUp, parts, keepsEmpty);
  const empty = lineUp.parts.filter((_, at) => !places[at]).map(({ name }) => name);
  if (empty.length > 0) process.stderr.write(`${basename(path)}: no part plays ${empty.join(', ')}.\n`);
  return withDirectives(brief, directives);
}

async function convert(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    options: {
      to: { type: 'string' },
      only: { type: 'string' },
      times: { type: 'string' },
      pitch: { type: 'string' },
      layout: { type: 'string' },
      marks: { type: 'string' },
      repeats: { type: 'string' },
      apart: { type: 'string' },
      files: { type: 'string' },
      dynamics: { type: 'string' },
      'no-repeats': { type: 'boolean', default: false },
      precedents: { type: 'string' },
      'line-up': { type: 'string' },
      'keep-empty': { type: 'boolean', default: false },
      brief: { type: 'string' },
      out: { type: 'string', short: 'o' },
    },
    allowPositionals: true,
  });
  const { out, only } = values;
  if (positionals.length === 0) throw new UsageError('convert takes at least one file.');
  const to = CONVERTED.find((each) => each === values.to);
  if (!to) throw new UsageError(`--to takes ${CONVERTED.join(', ')}.`);
  const midiForm = FORMS.find((each) => each === only);
  if (only !== undefined && (to !== 'midi' || !midiForm))
    throw new UsageError('--only goes with --to midi and takes plain, full, clock or loops.');
  const times = NOTE_TIMES.find((each) => each === values.times);
  if (values.times !== undefined && (to !== 'midi' || !times))
    throw new UsageError('--times goes with --to midi and takes played, written or places.');
  const pitch = PITCHES.find((each) => each === values.pitch);
  if (values.pitch !== undefined && (to === 'midi' || !pitch))
    throw new UsageError('--pitch goes with --to musicxml or mxl and takes written or concert.');
  const layout = LAYOUTS.find((each) => each === values.layout);
  if (values.layout !== undefined && (to === 'midi' || !layout))
    throw new UsageError('--layout goes with --to musicxml or mxl and takes kept or left-out.');
  const shown = values.marks === 'all' ? OFFERED : (values.marks?.split(',') ?? []);
  const marks = OFFERED.filter((each) => shown.includes(each));
  if (values.marks !== undefined && (to === 'midi' || marks.length < shown.length))
    throw new UsageError(
      `--marks goes with --to musicxml or mxl and takes all, or with commas ${OFFERED.join(', ')}.`,
    );
  if (values.repeats !== undefined && (to === 'midi' || values.repeats !== 'folded'))
    throw new UsageError('--repeats goes with --to musicxml or mxl and takes folded.');
  const asked = values.apart?.split(',') ?? [];
  const apart = APART.filter((each) => asked.includes(each));
  if (values.apart !== undefined && (to !== 'midi' || apart.length < asked.length))
    throw new UsageError('--apart goes with --to midi and takes techniques, players and hands, with commas.');
  if (values.files !== undefined && (to !== 'midi' || values.files !== 'each'))
    throw new UsageError('--files goes with --to midi and takes each.');
  const dynamics = DYNAMICS.find((each) => each === values.dynamics);
  if (values.dynamics !== undefined && (to !== 'midi' || !dynamics))
    throw new UsageError('--dynamics goes with --to midi and takes velocity, both, curve or none.');
  if (!out) throw new UsageError('convert needs -o OUT.');
  const intoFolder = positionals.length > 1 || (existsSync(out) && statSync(out).isDirectory());
  if (intoFolder && !(existsSync(out) && statSync(out).isDirectory()))
    throw new UsageError(`${out} is not a folder; several files need one.`);
  const given = values.brief ? readBrief(values.brief) : EMPTY_BRIEF;
  const { perform } = decide(given);
  const playing = { ...(dynamics && { dynamics }), ...(values['no-repeats'] && { repeats: false }) };
  const brief = withDirectives(given, [
    ...(Object.keys(playing).length > 0 ? [{ kind: 'perform' as const, ...perform, ...playing }] : []),
    ...marks.map((what) => ({ kind: 'marks' as const, what, use: 'shown' as const })),
    ...(values.repeats ? [{ kind: 'repeats' as const, use: 'folded' as const }] : []),
  ]);
  const precedents = values.precedents ? readPrecedents(values.precedents) : [];
  const lineUp = values['line-up'] ? lineUpCalled(values['line-up']) : null;
  // Everything is converted before anything is written, so a bad file leaves nothing half done.
  const results: { target: string; bytes: Uint8Array }[] = [];
  for (const path of positionals) {
    const workbench = openFile(path);
    const known = withPrecedents(workbench, brief, precedents);
    const { desk } = workbench.layOut(
      0,
      lineUp ? withLineUp(path, workbench, known, lineUp, values['keep-empty']) : known,
    );
    sayRefusals(path, desk);
    const made = await handedOver(path, workbench, 0, to, {
      ...desk.decisions,
      scoreForm: { ...desk.decisions.scoreForm, ...(pitch && { pitch }), ...(layout && { layout }) },
      handOver: {
        ...desk.decisions.handOver,
        ...(midiForm && { form: midiForm }),
        ...(times && { times }),
        ...(values.apart !== undefined && { apart }),
        ...(values.files && { files: 'each' as const }),
      },
    });
    const name = `${basename(path, extname(path))}.${made.extension}`;
    for (const left of made.left) process.stderr.write(`${basename(path)}: ${left}\n`);
    results.push({ target: intoFolder ? join(out, name) : out, bytes: made.bytes });
  }
  const targets = new Set(results.map((result) => result.target));
  if (targets.size < results.length)
    throw new UsageError('Two of the files would be written under one name.');
  for (const { target, bytes } of results) {
    try {
      writeFileSync(target, bytes);
    } catch {
      throw new UsageError(`${target} cannot be written.`);
    }
  }
}

/** Does one command. @returns its exit code */
async function command([name, ...args]: readonly string[], script: string): Promise<number> {
  if (args.includes('--help') || name === '--help' || name === 'help') {
    process.stdout.write(`${USAGE}\n`);
    return 0;
  }
  // Its threads hear the recordings that they come to.
  if (name === 'batch') return batch(args, script);
  await hearRecordings(args);
  if (name === 'proof') return proof(args);
  if (name === 'compare') return compareFiles(args);
  if (name === 'inspect') inspect(args);
  else if (name === 'convert') await convert(args);
  else if (name === 'packet') packet(args);
  // The synthesizer is loaded where it is needed alone.
  else if (name === 'stems') await (await import('./stems')).stems(args);
  else
    throw new UsageError(
      `"${name ?? ''}" is no command; try inspect, convert, proof, compare, packet, stems or batch.`,
    );
  return 0;
}

/**
 * Does what a command line asks for, and says on standard error why where it cannot.
 *
 * @param argv the words after the name of the program
 * @param script the program itself, which a batch starts in its threads
 * @returns the exit code: 0; 1 where a check finds something; 2 where the command cannot be done
 */
export async function runCommand(argv: readonly string[], script: string): Promise<number> {
  try {
    return await command(argv, script);
  } catch (error) {
    process.stderr.write(`dragoman: ${whyOf(error)}\n`);
    if (!isKnown(error) && process.env.DRAGOMAN_TRACE) process.stderr.write(`${(error as Error).stack}\n`);
    return 2;
  }
}
