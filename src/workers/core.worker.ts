import { type EventId, spelledStrand, strandOf, wholeStrand } from '../core/model/ids';
import 'reflect-metadata';
import * as Comlink from 'comlink';
import { type Desk, layOut } from '../core/clean/desk';
import { type Brief, EMPTY_BRIEF, parseBrief } from '../core/decisions/brief';
import { decide, withoutReadBy } from '../core/decisions/decisions';
import type { PlainDirective } from '../core/decisions/kinds';
import { deliverMidi, type Preview, previewMidi } from '../core/deliver';
import { type BarRow, barTable, barTableCsv } from '../core/deliver/bar-table';
import { rearrange } from '../core/edit/rearrange';
import { sliceScore } from '../core/engrave/slice';
import { planSystems, type SystemPlan } from '../core/engrave/systems';
import { type Evidence, evidenceOf } from '../core/explain/evidence';
import { explainNote, type NoteReading } from '../core/explain/explain';
import { rhythmFindings } from '../core/explain/findings';
import { usesOf } from '../core/explain/uses';
import { positionAt, secondsAt } from '../core/model/clock';
import { unitsOf } from '../core/model/groups';
import type { Performance } from '../core/model/performance';
import { barIndexOf } from '../core/model/score';
import { isOfScore, type Timeline, timelineOf } from '../core/sound/timeline';
import { packMxl } from '../core/sources/musicxml/mxl';
import { writeMusicXml } from '../core/sources/musicxml/write';
import type { Smf } from '../core/sources/smf/events';
import { NotAnSmfError, readSmf } from '../core/sources/smf/read';
import { listControllers } from '../core/stock/controllers';
import { takeStock } from '../core/stock/inventory';
import { listKits } from '../core/stock/kits';
import { type Progress, type Transcription, transcribe, transcribeNow } from '../core/transcribe';
import { Workings } from '../core/transcribe/workings';
import { type BeatSheet, beatSheet, decideBeats } from './beat-sheet';
import { drive } from './drive';
import { choicesOf, interlinear, tickOfEnd } from './interlinear';
import {
  BarTableRequest,
  checkMessage,
  DeliveryRequest,
  EditBeatsRequest,
  InterlinearRequest,
  RearrangeRequest,
  SystemsRequest,
  TimelineRequest,
  WindowRequest,
} from './messages';
import { type NoteBarsData, noteBars, transferable } from './note-bars';
import type { Choice, GroupedBar, InterlinearData, NoteOrigin, Opened, ScoreSummary, Stock } from './replies';

/** How long the worker computes before it listens for messages again, in milliseconds. */
const SLICE = 30;

let smf: Smf | null = null;
let desk: Desk | null = null;
let transcription: Transcription | null = null;
/** The brief that it was written under, as text. */
let writtenUnder = '';
let workings = new Workings();
let run = 0;
let asFound: { performance: Performance; made: string; result: Transcription } | null = null;

/** The score as no decision about its rhythm has touched it; kept, since those are what changes most. */
function readAsFound({ performance, brief }: Desk): Transcription {
  const without = withoutReadBy(brief, 'rhythm');
  const made = JSON.stringify(without.directives);
  if (asFound?.performance !== performance || asFound.made !== made)
    asFound = { performance, made, result: transcribeNow(performance, without, workings.fork()) };
  return asFound.result;
}

const api = {
  /**
   * Reads a file.
   * @returns what a list of jobs says of it, or a sentence that says why it cannot be read
   */
  open(bytes: Uint8Array): Opened | { refused: string } {
    try {
      smf = readSmf(bytes);
    } catch (error) {
      if (error instanceof NotAnSmfError) return { refused: error.message };
      throw error;
    }
    transcription = null;
    workings = new Workings();
    desk = layOut(smf, EMPTY_BRIEF);
    const { title, strands } = desk.performance;
    return {
      title,
      strands: strands.length,
      notes: strands.reduce((sum, strand) => sum + strand.notes.length, 0),
    };
  },

  /** Cleans the source under a brief and takes stock of what is then there. */
  takeStock(data: Brief): Stock | null {
    const brief = parseBrief(data);
    if (!smf) return null;
    desk = layOut(smf, brief);
    const { performance, decisions, changes } = desk;
    return {
      inventory: takeStock(smf, performance, decisions),
      changes,
      lanes: listControllers(desk.source),
      kits: listKits(desk),
    };
  },

  /** Writes the score anew under a brief. Resolves to null when a later call or `cancel` overtook it. */
  async transcribe(data: Brief, onProgress: (progress: Progress) => void): Promise<ScoreSummary | null> {
    const mine = ++run;
    const brief = parseBrief(data);
    if (!smf) return null;
    const { performance } = layOut(smf, brief);
    const steps = transcribe(performance, brief, workings);
    const result = await drive(steps, SLICE, () => mine === run, onProgress);
    if (!result) return null;
    transcription = result;
    writtenUnder = JSON.stringify(brief);
    return summarise(result, performance);
  },

  cancel(): void {
    run++;
  },

  /** How the bars divide into systems for the parts in view. */
  systems(data: unknown): SystemPlan[] {
    const request = checkMessage(SystemsRequest, data);
    return transcription ? planSystems(transcription.score, new Set(request.parts), request.width) : [];
  },

  /** MusicXML of the parts and bars in view. */
  window(data: unknown): string {
    const request = checkMessage(WindowRequest, data);
    if (!transcription) return '';
    const { score } = transcription;
    const cut = sliceScore(score, new Set(request.parts), request.from, request.to);
    return writeMusicXml(cut, { continues: request.from > 0, goesOn: request.to < score.bars.length });
  },

  /** One part over some bars, as played and as written. */
  interlinear(data: unknown): InterlinearData | null {
    const { part, from, to, found } = checkMessage(InterlinearRequest, data);
    if (!transcription || !desk) return null;
    if (!found) return interlinear(transcription, desk.decisions, part, from, to);
    return interlinear(readAsFound(desk), decide(EMPTY_BRIEF), part, from, to);
  },

  /** Why a note of the source is written where it is; null where it is not in the score. */
  reading(note: EventId): NoteReading | null {
    return transcription && explainNote(transcription, note);
  },

  /** The other readings of a note, each as the bar that it would make. */
  choices(note: EventId): Choice[] {
    if (!transcription || !desk) return [];
    return choicesOf(desk, transcription, workings, note);
  },

  /** The decisions that an arrangement of notes comes to. */
  rearrange(data: unknown): PlainDirective[] {
    const { notes, arrangement, like } = checkMessage(RearrangeRequest, data);
    if (!transcription) return [];
    const model = transcription.plans.findIndex((plan) => plan.id === like);
    return rearrange(transcription, notes, arrangement, model < 0 ? undefined : model);
  },

  /** The beats over the notes of the source. */
  beatSheet(): BeatSheet | null {
    if (!desk) return null;
    const sheet = beatSheet(desk);
    const { on, off, key } = sheet.notes;
    return Comlink.transfer(
      sheet,
      [sheet.seconds, on, off, key].map((part) => part.buffer),
    );
  },

  /** The decision that a change of the beats comes to. */
  editBeats(data: unknown): PlainDirective[] {
    const request = checkMessage(EditBeatsRequest, data);
    return desk ? decideBeats(desk, request) : [];
  },

  /** How the attacks of a part lie, all together. */
  evidence(partId: string): Evidence | null {
    const index = transcription?.plans.findIndex((plan) => plan.id === String(partId)) ?? -1;
    return transcription && index >= 0 ? evidenceOf(transcription, index) : null;
  },

  /** The whole score under a brief as a file, whatever was written last. */
  deliver(data: unknown, under: Brief): Uint8Array {
    const request = checkMessage(DeliveryRequest, data);
    const brief = parseBrief(under);
    if (!smf) throw new Error('There is no source yet.');
    const { score } =
      transcription && writtenUnder === JSON.stringify(brief)
        ? transcription
        : transcribeNow(layOut(smf, brief).performance, brief, workings.fork());
    const document = writeMusicXml(score);
    const bytes = request.format === 'mxl' ? packMxl(document) : new TextEncoder().encode(document);
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** The performance as flat arrays, as it is or with the variation that was asked for. */
  noteBars(varied: boolean): NoteBarsData | null {
    if (!desk) return null;
    const data = noteBars(desk, Boolean(varied));
    return Comlink.transfer(data, transferable(data) as Transferable[]);
  },

  /** Everything to be played, in order of time; null before there is anything to hear. */
  timeline(data: unknown): Timeline | null {
    const { heard } = checkMessage(TimelineRequest, data);
    if (!desk || (isOfScore(heard) && !transcription)) return null;
    const made = timelineOf(desk, heard, transcription?.score ?? null);
    const { seconds, kind, channel, first, second, beats } = made;
    const parts = [seconds, kind, channel, first, second, beats.seconds, beats.down];
    return Comlink.transfer(
      made,
      parts.map((part) => part.buffer),
    );
  },

  /** What the hand-over of the brief will hold. */
  previewMidi(): Preview | null {
    return desk && previewMidi(desk);
  },

  /** The hand-over under a brief: a Standard MIDI File, or a zip of loops. */
  deliverMidi(under: Brief): Uint8Array {
    if (!smf) throw new Error('There is no source yet.');
    const bytes = deliverMidi(layOut(smf, parseBrief(under)));
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** The bar table. */
  barTable(data: unknown): { rows: BarRow[]; csv: string } {
    const { rate, start } = checkMessage(BarTableRequest, data);
    if (!desk) return { rows: [], csv: '' };
    const rows = barTable(desk.performance, rate, start);
    return { rows, csv: barTableCsv(rows, rate) };
  },

  /** Where a note comes from, by its id in the source; null for an id that is not there. */
  origin(id: EventId): NoteOrigin | null {
    if (!desk) return null;
    const { clock, strands } = desk.performance;
    const own = strands.filter((each) => wholeStrand(each.id) === strandOf(id));
    const strand = own.find((each) => each.notes.some((each) => each.id === id));
    const note = strand?.notes.find((each) => each.id === id);
    if (!strand || !note) return null;
    const at = positionAt(clock, note.on);
    return {
      id,
      strandId: strand.id,
      strand: strand.name || spelledStrand(strand.id),
      track: strand.track + 1,
      channel: strand.channel + 1,
      key: note.key,
      velocity: note.velocity,
      on: note.on,
      off: note.off,
      bar: at.bar,
      beat: at.beat,
      offset: Math.round(at.offset),
      seconds: secondsAt(clock, note.on),
      milliseconds: 1000 * (secondsAt(clock, note.off) - secondsAt(clock, note.on)),
    };
  },
};

export type CoreApi = typeof api;

function summarise(result: Transcription, from: Performance): ScoreSummary {
  const { score, plans, readings, frame, account, keyWhy, lostLyrics } = result;
  const count = (index: number) =>
    score.parts[index]!.bars.reduce(
      (sum, bar) =>
        sum +
        bar.voices.reduce(
          (inner, line) =>
            inner +
            line.items.reduce(
              (notes, item) =>
                notes + (item.kind === 'chord' ? item.notes.filter((note) => !note.tieStop).length : 0),
              0,
            ),
          0,
        ),
      0,
    );
  return {
    title: score.title,
    bars: score.bars.map((bar) => bar.number),
    parts: plans.map((plan, index) => ({
      id: plan.id,
      name: plan.name,
      abbreviation: plan.abbreviation,
      instrument: plan.instrument.id,
      staves: score.parts[index]!.clefs.length,
      strands: plan.strands,
      why: plan.why,
      leads: readings[index]!.leads,
      foundLeads: readings[index]!.foundLeads,
      spread: 1000 * readings[index]!.sigma,
      uses: usesOf(readings[index]!.attacks, frame),
      notes: count(index),
      enters: barIndexOf(
        frame.bars,
        readings[index]!.attacks.reduce(
          (first, { start }) => Math.min(first, start),
          Number.POSITIVE_INFINITY,
        ),
      ),
    })),
    findings: rhythmFindings(result),
    key: { ...score.keys[0]!, changes: score.keys.length - 1 },
    keyWhy,
    account,
    lostLyrics: lostLyrics.length,
    swings: result.swings,
    foundSwings: result.foundSwings,
    grouped: groupedBars(result),
    barTicks: [...frame.ticks, tickOfEnd(frame)],
    upbeatQuarters: from.clock.upbeat / from.clock.ticksPerQuarter,
    firstBar: from.clock.firstBar,
  };
}

function groupedBars({ score, foundGroups }: Transcription): GroupedBar[] {
  return score.bars.flatMap(({ meter, groups }, bar) => {
    const found = foundGroups[bar];
    return found ? [{ bar, meter, groups: unitsOf(groups, meter), found }] : [];
  });
}

Comlink.expose(api);
