import 'reflect-metadata';
import * as Comlink from 'comlink';
import type { LineUp } from '../core/cast/line-ups';
import { plansOf } from '../core/cast/written';
import type { Desk } from '../core/clean/desk';
import { type LikeFigures, likeFigures, soundingOf } from '../core/clean/sounding';
import { BadBriefError, type Brief, EMPTY_BRIEF, parseBrief } from '../core/decisions/brief';
import { decide } from '../core/decisions/decisions';
import type { PlainDirective } from '../core/decisions/kinds';
import { deliverMidi, needsScore, type Preview, previewMidi } from '../core/deliver';
import { type BarRow, barTable, barTableCsv } from '../core/deliver/bar-table';
import { writtenScore } from '../core/deliver/folded';
import { deliverParts, withParts, zipOf } from '../core/deliver/parts';
import { deliverScore } from '../core/deliver/score';
import { untidyFile } from '../core/demo/untidy';
import type { Answered } from '../core/edit/answers';
import { type LikePassage, likePassages } from '../core/edit/like-passages';
import { type LaidLyrics, layLyrics, lyricsText, versesUnder } from '../core/edit/lyrics';
import { rearrange } from '../core/edit/rearrange';
import { findNotes } from '../core/edit/select';
import { onPaper } from '../core/engrave/pages';
import { inPitch } from '../core/engrave/pitch';
import { planSystems, type SystemPlan } from '../core/engrave/systems';
import { windowOf } from '../core/engrave/window';
import { type Evidence, evidenceOf } from '../core/explain/evidence';
import { explainNote, type NoteReading } from '../core/explain/explain';
import { listedForm } from '../core/explain/form';
import { listedMarks } from '../core/explain/marks';
import { type EventId, FIRST_SOURCE, type StrandId } from '../core/model/ids';
import type { Score } from '../core/model/score';
import type { GoingOut } from '../core/proof/going-out';
import { BarsEditError } from '../core/rewrite/bar-order';
import type { Timeline } from '../core/sound/events';
import type { Stem } from '../core/sound/stem-choice';
import { timelineOf } from '../core/sound/timeline';
import { BadSourceError } from '../core/sources';
import type { Progress } from '../core/transcribe';
import { answered } from '../core/workbench/answers';
import { type EditedBars, editBars } from '../core/workbench/bars-edit';
import { type BeatSheet, beatSheet, decideBeats } from '../core/workbench/beat-sheet';
import {
  type ComparedBars,
  type ComparedSound,
  type Comparison,
  compare,
  comparedBars,
  comparedSound,
  comparisonCsv,
} from '../core/workbench/compare';
import { choicesOf, interlinear } from '../core/workbench/interlinear';
import { type MarksFrom, marksFrom } from '../core/workbench/marks-from';
import { type NoteBarsData, noteBars, transferable } from '../core/workbench/note-bars';
import { decideNotes, notesBetween } from '../core/workbench/note-edits';
import { originsOf } from '../core/workbench/origin';
import { packetOf } from '../core/workbench/packet';
import { goingOutOf, type Proof, proofOf } from '../core/workbench/proof';
import type {
  Choice,
  InterlinearData,
  Listed,
  NoteOrigin,
  Opened,
  ScoreSummary,
  Stock,
} from '../core/workbench/replies';
import { stemsOf } from '../core/workbench/stems';
import { stockOf } from '../core/workbench/stock';
import { summarise } from '../core/workbench/summary';
import { newsOf, type VersionNews } from '../core/workbench/versions';
import { Workbench } from '../core/workbench/workbench';
import { checkMessage } from './check-message';
import { drive } from './drive';
import { KeptScores } from './kept-scores';
import {
  AnswerRequest,
  BarTableRequest,
  BetweenRequest,
  ComparedBarsRequest,
  ComparedSoundRequest,
  CompareRequest,
  checkExtras,
  checkSource,
  DeliveryRequest,
  EditBarsRequest,
  EditBeatsRequest,
  EditNotesRequest,
  FindRequest,
  InterlinearRequest,
  LikePassagesRequest,
  LyricsLineRequest,
  LyricsRequest,
  NoteRequest,
  NotesRequest,
  PacketRequest,
  PartRequest,
  RearrangeRequest,
  SourceRequest,
  StemsRequest,
  SystemsRequest,
  TimelineRequest,
  toBarsEdit,
  toBeatChange,
  toBothCompared,
  toNotesEdit,
  VersionRequest,
  WindowRequest,
} from './messages';
import { serve } from './serve';

/** How long the worker computes before it listens for messages again, in milliseconds. */
const SLICE = 25;

let opened: Workbench | null = null;
let kept: KeptScores | null = null;
/** Counts what was asked to be written: only the last is worth finishing. */
let writing = 0;

/** The open job. @throws Error when there is none */
function bench(): Workbench {
  if (!opened) throw new Error('No job is open here.');
  return opened;
}

/** Counts what was asked to be told of, proved, read back, compared and listed: only the last of each is worth finishing. */
let takingStock = 0;
let proving = 0;
let readingBack = 0;
let comparing = 0;
let takingMarks = 0;
let listing = 0;

const never = () => true;
const quiet = () => {};

/** Runs steps to their end, listening in between. */
const unhurried = async <T>(steps: Generator<unknown, T>): Promise<T> =>
  (await drive(steps, SLICE, never, quiet))!.value;

/** A desk whose sounding performance is at hand: laying another one over it takes its time, and gives way. */
async function sounding(desk: Desk): Promise<Desk> {
  await unhurried(likeFigures(desk));
  return desk;
}

/** The score as it is looked at. */
function shownScore(
  revision: number,
  { parts, concert, paper }: Pick<WindowRequest, 'parts' | 'concert' | 'paper'>,
): Score {
  const { transcription, desk } = bench().writtenAt(revision);
  const cues = desk.decisions.scoreForm.cues ?? false;
  return paper
    ? onPaper(transcription.score, new Set(parts), { concert: concert ?? false, cues })
    : inPitch(transcription.score, concert);
}

/** What of a timeline need not be copied on its way. */
const buffersOf = ({ seconds, kind, channel, first, second, beats, opening }: Timeline): Transferable[] =>
  [seconds, kind, channel, first, second, beats.seconds, beats.down, opening.beats].map(
    (part) => part.buffer as ArrayBuffer,
  );

const api = {
  /**
   * Opens the sources of a job.
   * @param job under which its score is kept; null where none is to be kept
   * @returns null, or a sentence that says why one cannot be read
   */
  open(data: readonly unknown[], job: string | null): { refused: string } | null {
    const sources = data.map(checkSource);
    if (!opened?.isOf(sources)) {
      writing++;
      try {
        opened = new Workbench(sources);
      } catch (error) {
        if (error instanceof BadSourceError) return { refused: error.message };
        throw error;
      }
    }
    kept = job === null ? null : new KeptScores(job, sources);
    return null;
  },

  /** What a list of jobs says of the first source that was opened. */
  opened(): Opened {
    const { title, strands } = bench().deskUnder(EMPTY_BRIEF).performance;
    const notes = strands.reduce((sum, strand) => sum + strand.notes.length, 0);
    return { title, strands: strands.length, notes };
  },

  /**
   * Writes the score of what was opened, as long as nothing is decided, and until a score is asked for: what was
   * worked out until then is kept for it. Where nothing was opened, that of the demo piece, for practice.
   */
  async ahead(): Promise<void> {
    const mine = ++writing;
    const workbench =
      opened ?? new Workbench([{ id: FIRST_SOURCE, version: 1, name: '', bytes: untidyFile() }]);
    workbench.layOut(0, EMPTY_BRIEF);
    await drive(workbench.write(0), SLICE, () => mine === writing, quiet);
  },

  /** Adds a source, or a version of one, to the open job. @returns null, or why it cannot be read */
  add(data: unknown): { refused: string } | null {
    const source = checkSource(data);
    try {
      bench().add(source);
    } catch (error) {
      if (error instanceof BadSourceError) return { refused: error.message };
      throw error;
    }
    kept?.add(source);
    return null;
  },

  /** Reads a brief from the text of a file. @returns it, or a sentence that says what is wrong */
  readBrief(text: string): Brief | { refused: string } {
    try {
      return parseBrief(JSON.parse(String(text)));
    } catch (error) {
      return { refused: error instanceof BadBriefError ? error.message : 'This is not a brief.' };
    }
  },

  /** A brief with more decisions, those before them moved along where time is laid out anew. */
  decided(under: Brief, added: PlainDirective[]): Brief {
    const brief = parseBrief(under);
    return bench().decided(brief, parseBrief({ ...brief, directives: added }).directives);
  },

  /** The parts of a source as a line-up; null where it is not there. */
  lineUpOf(data: unknown): LineUp | null {
    return bench().lineUpOf(checkMessage(SourceRequest, data).source);
  },

  /** Cleans the sources under a brief. @returns the strands that are then there */
  layOut(revision: number, data: Brief): StrandId[] {
    takingStock++;
    return bench()
      .layOut(revision, parseBrief(data))
      .desk.performance.strands.map(({ id }) => id);
  },

  /** What there is of what was laid out; null when another brief overtook it. */
  async stock(revision: number): Promise<Stock | null> {
    const mine = ++takingStock;
    const done = await drive(stockOf(bench().at(revision)), SLICE, () => mine === takingStock, quiet);
    return done?.value ?? null;
  },

  /** Writes the score of what was laid out. Resolves to null when a later call or `cancel` overtook it. */
  async write(revision: number, onProgress: (progress: Progress) => void): Promise<ScoreSummary | null> {
    const mine = ++writing;
    const workbench = bench();
    const { desk } = workbench.at(revision);
    const known = await kept?.find(desk.brief);
    if (mine !== writing) return null;
    if (known) return summarise(workbench.takeUp(revision, known));
    const done = await drive(workbench.write(revision), SLICE, () => mine === writing, onProgress);
    if (!done) return null;
    const { transcription } = done.value;
    kept?.keep(desk.brief, transcription, async () => ({
      ...transcription,
      told: await unhurried(workbench.tell(done.value)),
    }));
    return summarise(done.value);
  },

  cancel(): void {
    writing++;
  },

  /** What the playing speaks for, chosen or not; null when a later call overtook it. */
  async listed(revision: number): Promise<Listed | null> {
    const mine = ++listing;
    const written = bench().writtenAt(revision);
    const done = await drive(bench().tell(written), SLICE, () => mine === listing, quiet);
    if (!done) return null;
    const { transcription } = written;
    return { marks: listedMarks(done.value, transcription), form: listedForm(done.value, transcription) };
  },

  /** The marks that another source speaks for, at the notes of the score; null when a later call overtook it. */
  async marksFrom(revision: number, data: unknown): Promise<MarksFrom | null> {
    const mine = ++takingMarks;
    const steps = marksFrom(bench(), bench().writtenAt(revision), checkMessage(VersionRequest, data));
    const done = await drive(steps, SLICE, () => mine === takingMarks, quiet);
    return done?.value ?? null;
  },

  /** How the bars divide into systems for the parts in view. */
  systems(revision: number, data: unknown): SystemPlan[] {
    const request = checkMessage(SystemsRequest, data);
    return planSystems(shownScore(revision, request), new Set(request.parts), request.width, request.from);
  },

  /** MusicXML of the parts and bars in view. */
  window(revision: number, data: unknown): string {
    const request = checkMessage(WindowRequest, data);
    return windowOf(shownScore(revision, request), new Set(request.parts), request.from, request.to);
  },

  /** Some parts over some bars, as played and as written. */
  async interlinear(revision: number, data: unknown): Promise<InterlinearData | null> {
    const { from, to, found, concert, ...request } = checkMessage(InterlinearRequest, data);
    const parts = new Set(request.parts);
    const state = bench().writtenAt(revision);
    if (!found) return interlinear(state.transcription, state.desk.decisions, parts, from, to, concert);
    const asFound = await unhurried(bench().asFound(state));
    return interlinear(asFound, decide(EMPTY_BRIEF), parts, from, to, concert);
  },

  /** Why a note of the source is written where it is; null where it is not in the score. */
  reading(revision: number, data: unknown): NoteReading | null {
    const { note } = checkMessage(NoteRequest, data);
    return explainNote(bench().writtenAt(revision).transcription, note);
  },

  /** The other readings of a note, each as the bar that it would make. */
  choices(revision: number, data: unknown): Promise<Choice[]> {
    const { note } = checkMessage(NoteRequest, data);
    return unhurried(choicesOf(bench(), bench().writtenAt(revision), note));
  },

  /**
   * The leading source with bars put in, taken out, repeated or moved, as its next version, which is here from then on.
   * @returns it, or a sentence that says why that cannot be done
   */
  editBars(revision: number, data: unknown): EditedBars | { refused: string } {
    const edit = toBarsEdit(checkMessage(EditBarsRequest, data));
    try {
      const made = editBars(bench(), bench().at(revision), edit);
      kept?.add(made);
      return made;
    } catch (error) {
      if (error instanceof BarsEditError) return { refused: error.message };
      throw error;
    }
  },

  /** The decisions that an arrangement of notes comes to. */
  rearrange(revision: number, data: unknown): PlainDirective[] {
    const { notes, arrangement, like } = checkMessage(RearrangeRequest, data);
    const { transcription } = bench().writtenAt(revision);
    const model = transcription.plans.findIndex((plan) => plan.id === like);
    return rearrange(transcription, notes, arrangement, model < 0 ? undefined : model);
  },

  /** What wants a look before hand-over; null when a later call overtook it. */
  async proof(revision: number): Promise<Proof | null> {
    const mine = ++proving;
    const done = await drive(proofOf(bench().writtenAt(revision)), SLICE, () => mine === proving, quiet);
    return done?.value ?? null;
  },

  /** What the version of the leading source that counts brought; null for the first. */
  versionNews(revision: number): VersionNews | null {
    return newsOf(bench().at(revision));
  },

  /** What goes out, read back and laid over the score; null when a later call overtook it. */
  async goingOut(revision: number): Promise<GoingOut[] | null> {
    const mine = ++readingBack;
    const done = await drive(
      goingOutOf(bench().writtenAt(revision)),
      SLICE,
      () => mine === readingBack,
      quiet,
    );
    return done?.value ?? null;
  },

  /** Two readings of the job laid over each other; null when a later call overtook it. */
  async compare(revision: number, data: unknown): Promise<Comparison | null> {
    const mine = ++comparing;
    const which = toBothCompared(checkMessage(CompareRequest, data));
    const steps = compare(bench(), bench().writtenAt(revision), which);
    const done = await drive(steps, SLICE, () => mine === comparing, quiet);
    return done?.value ?? null;
  },

  /** The bars around a difference, of both readings. */
  comparedBars(revision: number, data: unknown): Promise<[ComparedBars | null, ComparedBars | null]> {
    const request = checkMessage(ComparedBarsRequest, data);
    const { atOne, atTwo } = request;
    const at = { one: atOne ?? null, two: atTwo ?? null };
    return unhurried(comparedBars(bench(), bench().writtenAt(revision), toBothCompared(request), at));
  },

  /** One of two readings, to be heard beside the other. */
  async comparedSound(revision: number, data: unknown): Promise<ComparedSound> {
    const request = checkMessage(ComparedSoundRequest, data);
    const made = await unhurried(
      comparedSound(bench(), bench().writtenAt(revision), toBothCompared(request), request.index),
    );
    return Comlink.transfer(made, [made.from.buffer, made.until.buffer, ...buffersOf(made.timeline)]);
  },

  /** The decisions by which chosen differences of the score from another reading go. */
  answered(revision: number, data: unknown): Promise<Answered> {
    const request = checkMessage(AnswerRequest, data);
    const pair = toBothCompared(request);
    return unhurried(answered(bench(), bench().writtenAt(revision), pair, request.rows, request.answer));
  },

  /** How far another source plays the piece, where it is played like that; null where it is not. */
  playedLike(revision: number): Promise<LikeFigures | null> {
    return unhurried(likeFigures(bench().at(revision).desk));
  },

  /** The same as a table for other programs. */
  async comparisonCsv(revision: number, data: unknown): Promise<string> {
    const which = toBothCompared(checkMessage(CompareRequest, data));
    return comparisonCsv(await unhurried(compare(bench(), bench().writtenAt(revision), which)));
  },

  /** The beats over the notes of the source. */
  beatSheet(revision: number): BeatSheet {
    const sheet = beatSheet(bench().at(revision).desk);
    const { on, off, key } = sheet.notes;
    return Comlink.transfer(
      sheet,
      [sheet.seconds, on, off, key].map((part) => part.buffer),
    );
  },

  /** The decision that a change of the beats comes to. */
  editBeats(revision: number, data: unknown): PlainDirective[] {
    const change = toBeatChange(checkMessage(EditBeatsRequest, data));
    return decideBeats(bench().at(revision).desk, change);
  },

  /** How the attacks of a part lie, all together. */
  evidence(revision: number, data: unknown): Evidence | null {
    const { part } = checkMessage(PartRequest, data);
    const { transcription } = bench().writtenAt(revision);
    const index = transcription.plans.findIndex((plan) => plan.id === part);
    return index < 0 ? null : evidenceOf(transcription, index);
  },

  /** The whole score under a brief as a file, whatever was written last. */
  async deliver(data: unknown, under: Brief): Promise<Uint8Array> {
    const { format, parts, each } = checkMessage(DeliveryRequest, data);
    const brief = parseBrief(under);
    const transcription = await unhurried(bench().transcriptionUnder(brief));
    const desk = bench().deskUnder(brief);
    const whole = writtenScore(transcription);
    const score = parts ? withParts(whole, new Set(parts)) : whole;
    return each ? zipOf(deliverParts(desk, score, format)) : deliverScore(desk, score, format);
  },

  /** All that was chosen of a delivery in one zip. */
  async packet(data: unknown, under: Brief, extras: unknown): Promise<Uint8Array> {
    const { name, ...choice } = checkMessage(PacketRequest, data);
    const brief = parseBrief(under);
    const transcription = await unhurried(bench().transcriptionUnder(brief));
    const written = { revision: -1, desk: bench().deskUnder(brief), transcription };
    const bytes = await unhurried(packetOf(written, choice, name, checkExtras(extras)));
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** The performance as flat arrays, as it is or with the variation that was asked for. */
  async noteBars(revision: number, varied: boolean): Promise<NoteBarsData> {
    const data = noteBars(await sounding(bench().at(revision).desk), Boolean(varied));
    return Comlink.transfer(data, transferable(data) as Transferable[]);
  },

  /** Everything of the performance, or of the score, to be played, in order of time. */
  async timeline(revision: number, data: unknown): Promise<Timeline> {
    const { heard, ofScore } = checkMessage(TimelineRequest, data);
    const score = ofScore ? bench().writtenAt(revision).transcription.score : null;
    const state = ofScore ? bench().writtenAt(revision) : bench().at(revision);
    const made = timelineOf(await sounding(state.desk), heard, score);
    return Comlink.transfer(made, buffersOf(made));
  },

  /** What has a sound file of its own. */
  stems(revision: number, data: unknown): Stem[] {
    const { heard, by } = checkMessage(StemsRequest, data);
    return stemsOf(bench().at(revision).desk, heard, by);
  },

  /** What the hand-over of the brief will hold. */
  async previewMidi(revision: number): Promise<Preview> {
    return previewMidi(await sounding(bench().at(revision).desk));
  },

  /** The hand-over under a brief: a Standard MIDI File, or a zip of loops. */
  async deliverMidi(under: Brief): Promise<Uint8Array> {
    const brief = parseBrief(under);
    const desk = await sounding(bench().deskUnder(brief));
    const { handOver } = desk.decisions;
    const written = needsScore(handOver) ? await unhurried(bench().transcriptionUnder(brief)) : null;
    const bytes = deliverMidi(desk, handOver, written);
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** The bar table. */
  async barTable(revision: number, data: unknown): Promise<{ rows: BarRow[]; csv: string }> {
    const { rate, start } = checkMessage(BarTableRequest, data);
    const desk = await sounding(bench().at(revision).desk);
    const { performance, decisions, written } = desk;
    const plans = plansOf(performance, decisions, written?.score.parts ?? null);
    const rows = barTable(soundingOf(desk, performance), rate, start, plans);
    return { rows, csv: barTableCsv(rows, rate) };
  },

  /** Where notes come from and how they are written; those that are not there are left out. */
  async origins(revision: number, data: unknown): Promise<NoteOrigin[]> {
    const { notes } = checkMessage(NotesRequest, data);
    const written = bench().writtenAt(revision);
    // Of a note that is looked at alone the harmony, too.
    const told = notes.length === 1 ? await unhurried(bench().tell(written)) : null;
    return originsOf(written, notes, told);
  },

  /** The notes from one to another. */
  between(revision: number, data: unknown): EventId[] {
    const { from, to } = checkMessage(BetweenRequest, data);
    return notesBetween(bench().writtenAt(revision), from, to);
  },

  /** The notes that a rule is true of. */
  findNotes(revision: number, data: unknown): EventId[] {
    const { parts, from, to, ...rule } = checkMessage(FindRequest, data);
    const { transcription } = bench().writtenAt(revision);
    const wanted = new Set(parts);
    const indices = transcription.plans.flatMap(({ id }, index) => (wanted.has(id) ? [index] : []));
    return findNotes(transcription, rule, { parts: indices, from, to });
  },

  /** The decisions that an edit of notes comes to. */
  editNotes(revision: number, data: unknown): PlainDirective[] {
    const request = checkMessage(EditNotesRequest, data);
    return decideNotes(bench().writtenAt(revision), request.notes, toNotesEdit(request));
  },

  /** The passages like the one of some notes, each with the decisions that give it what that has. */
  likePassages(revision: number, data: unknown): LikePassage[] {
    const { notes, what } = checkMessage(LikePassagesRequest, data);
    return likePassages(bench().writtenAt(revision).transcription, notes, new Set(what));
  },

  /** The words under a line of notes, and the verses that its part has. */
  lyrics(revision: number, data: unknown): { text: string; verses: number[] } {
    const { part, ...line } = checkMessage(LyricsLineRequest, data);
    const { score } = bench().writtenAt(revision).transcription;
    const index = score.parts.findIndex(({ id }) => id === part);
    return { text: lyricsText(score, { ...line, part: index }), verses: versesUnder(score, index) };
  },

  /** Where words would stand under a line of notes, and the decisions that put them there. */
  layLyrics(revision: number, data: unknown): LaidLyrics {
    const { part, ...line } = checkMessage(LyricsRequest, data);
    const { score } = bench().writtenAt(revision).transcription;
    return layLyrics(score, { ...line, part: score.parts.findIndex(({ id }) => id === part) });
  },
};

export type CoreApi = typeof api;

serve(api);
