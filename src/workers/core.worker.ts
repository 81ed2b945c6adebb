import 'reflect-metadata';
import * as Comlink from 'comlink';
import { type Brief, parseBrief } from '../core/brief/brief';
import { decide } from '../core/brief/decisions';
import { packMxl } from '../core/musicxml/mxl';
import { writeMusicXml } from '../core/musicxml/write';
import { positionAt, secondsAt } from '../core/performance/clock';
import { type Performance, readPerformance } from '../core/performance/performance';
import { sliceScore } from '../core/score/slice';
import { planSystems, type SystemPlan } from '../core/score/systems';
import type { Smf } from '../core/smf/events';
import { NotAnSmfError, readSmf } from '../core/smf/read';
import { type Inventory, takeStock } from '../core/stock/inventory';
import { type PartCache, type Progress, type Transcription, transcribe } from '../core/transcribe';
import { checkMessage, DeliveryRequest, SystemsRequest, WindowRequest } from './messages';
import type { NoteOrigin, ScoreSummary } from './replies';

/** How long the worker computes before it listens for messages again, in milliseconds. */
const SLICE = 30;

let smf: Smf | null = null;
let performance: Performance | null = null;
let clockChoice = '';
let transcription: Transcription | null = null;
let cache: PartCache = new Map();
let run = 0;

const api = {
  /**
   * Reads a file and takes stock of it.
   * @returns the inventory, or a sentence that says why the file cannot be read
   */
  open(bytes: Uint8Array): { inventory: Inventory } | { refused: string } {
    try {
      smf = readSmf(bytes);
    } catch (error) {
      if (error instanceof NotAnSmfError) return { refused: error.message };
      throw error;
    }
    performance = readPerformance(smf);
    clockChoice = '';
    transcription = null;
    cache = new Map();
    return { inventory: takeStock(smf, performance) };
  },

  /** Writes the score anew under a brief. Resolves to null when a later call or `cancel` overtook it. */
  async transcribe(data: Brief, onProgress: (progress: Progress) => void): Promise<ScoreSummary | null> {
    const mine = ++run;
    const brief = parseBrief(data);
    if (!smf) return null;
    const decisions = decide(brief);
    const choice = JSON.stringify([decisions.firstBar, decisions.upbeatQuarters]);
    if (choice !== clockChoice || !performance) {
      performance = readPerformance(smf, decisions);
      clockChoice = choice;
      cache = new Map();
    }
    const steps = transcribe(performance, brief, cache);
    let since = Date.now();
    for (;;) {
      const step = steps.next();
      if (step.done) {
        transcription = step.value;
        return summarise(step.value, performance);
      }
      if (Date.now() - since < SLICE) continue;
      onProgress(step.value);
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (mine !== run) return null;
      since = Date.now();
    }
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

  /** The whole score as a file. */
  deliver(data: unknown): Uint8Array {
    const request = checkMessage(DeliveryRequest, data);
    if (!transcription) throw new Error('There is no score yet.');
    const document = writeMusicXml(transcription.score);
    const bytes = request.format === 'mxl' ? packMxl(document) : new TextEncoder().encode(document);
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** Where a written note comes from; null for an id that is not in the source. */
  origin(noteId: string): NoteOrigin | null {
    const id = String(noteId).split('.')[0]!;
    const strand = performance?.strands.find((each) => id.startsWith(`${each.id}-`));
    const note = strand?.notes.find((each) => each.id === id);
    if (!performance || !strand || !note) return null;
    const { clock } = performance;
    const at = positionAt(clock, note.on);
    return {
      id,
      strand: strand.name || strand.id,
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
  const { score, plans, leads, account, keyWhy, lostLyrics } = result;
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
      lead: leads[index]!,
      notes: count(index),
    })),
    key: { ...score.keys[0]!, changes: score.keys.length - 1 },
    keyWhy,
    account,
    lostLyrics: lostLyrics.length,
    upbeatQuarters: from.clock.upbeat / from.clock.ticksPerQuarter,
    firstBar: from.clock.firstBar,
  };
}

Comlink.expose(api);
