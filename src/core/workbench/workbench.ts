import { Graph, type Ran } from '../basics/graph';
import { isSame } from '../basics/same';
import { lineUpOf } from '../cast/line-up-of';
import type { LineUp } from '../cast/line-ups';
import { type Desk, layOut } from '../clean/desk';
import type { Brief } from '../decisions/brief';
import { decide, isAboutTime, saysWhen, withDirectives, withoutReadBy } from '../decisions/decisions';
import type { PlainDirective } from '../decisions/kinds';
import { areHeard, followed } from '../decisions/kinds/beats';
import type { SourceId } from '../model/ids';
import { type Reading, readSource, type Source } from '../sources';
import { type Progress, type Told, type Transcription, transcribe } from '../transcribe';
import { readTranscription } from './read-score';
import { type Pages, reanchored } from './reanchor';
import { writtenAgain } from './written-again';

/** One state of a job: what one brief comes to. All in it was made of the same desk. */
export interface State {
  /** Which brief it is, as whoever asks counts them. */
  revision: number;
  desk: Desk;
}

/** A state whose score has been written. */
export interface Written extends State {
  transcription: Transcription;
}

/** Thrown for a question about a state that is gone: what is stale is refused, never mixed. */
export class StaleError extends Error {
  override name = 'StaleError';
  constructor() {
    super('This was asked of a state that is past.');
  }
}

/** The score of a desk: written from its performance, or as it was read. */
function* scoreOf(desk: Desk, brief: Brief, graph: Graph, tells = false): Generator<Progress, Transcription> {
  if (desk.written) {
    const again = yield* writtenAgain(desk, desk.written, graph);
    return readTranscription(desk, desk.written, again);
  }
  return yield* transcribe(desk.performance, brief, graph, { tells });
}

/** So many states can still be asked about: views change over one by one. */
const KEPT = 3;

/**
 * The graph of a job: sources and brief to cleaned performance, cast, score
 * and account. It keeps the states that were laid out last and those whose
 * scores were written last, each whole, and works out anew only what changed.
 */
export class Workbench {
  private readonly readings: Reading[];
  private readonly graph = new Graph();
  /** The present state and the ones before it, newest first. */
  private laidOut: State[] = [];
  private written: Written[] = [];
  /** What was laid out up to this revision did not know the newest source. */
  private before = -1;
  private readonly told = new WeakMap<Transcription, Told>();
  private found: { of: string; for: object; transcription: Transcription } | null = null;

  /** @throws BadSourceError for a source that cannot be read */
  constructor(private readonly sources: readonly Source[]) {
    this.readings = sources.map(readSource);
  }

  /** Whether these are the sources that it was made of, and no other was added. */
  isOf(sources: readonly Source[]): boolean {
    return this.readings.length === this.sources.length && isSame(this.sources, sources);
  }

  /**
   * Another source, or another version of one.
   * @param check throws where it is not to be taken in after all
   * @throws BadSourceError when it cannot be read
   */
  add(source: Source, check?: (reading: Reading) => void): void {
    const reading = readSource(source);
    check?.(reading);
    this.readings.push(reading);
    this.before = this.laidOut[0]?.revision ?? 0;
  }

  /** Reads and cleans the sources under a brief; that state is the present one from now on. */
  layOut(revision: number, brief: Brief): State {
    const state = { revision, desk: layOut(this.readings, brief) };
    this.laidOut = [state, ...this.laidOut].slice(0, KEPT);
    return state;
  }

  /** Writes the score of the present state. @throws StaleError when it is another one */
  *write(revision: number): Generator<Progress, Written> {
    const state = this.at(revision);
    const transcription = yield* scoreOf(state.desk, state.desk.brief, this.graph);
    return this.finish({ ...state, transcription });
  }

  /** What the playing of a score speaks for, chosen or not: worked out when it is first asked for. */
  *tell({ desk, transcription }: Written): Generator<Progress, Told> {
    const known = transcription.told ?? this.told.get(transcription);
    if (known) return known;
    const isNewest = this.written[0]?.transcription === transcription;
    const graph = isNewest ? this.graph : this.graph.fork();
    const { told } = yield* scoreOf(desk, desk.brief, graph, true);
    if (!told) throw new Error('A score that tells all does not.');
    this.told.set(transcription, told);
    return told;
  }

  /** Takes up a score that was written of the present state before. */
  takeUp(revision: number, transcription: Transcription): Written {
    return this.finish({ ...this.at(revision), transcription });
  }

  private finish(written: Written): Written {
    this.written = [written, ...this.written].slice(0, KEPT);
    return written;
  }

  /** What was worked out again for the score that was written last, and why. */
  get ran(): readonly Ran[] {
    return this.graph.ran;
  }

  /** The state of a revision. @throws StaleError when it is past */
  at(revision: number): State {
    const state = [...this.laidOut, ...this.written].find((each) => each.revision === revision);
    if (!state) throw new StaleError();
    return state;
  }

  /** The state of a revision with its score. @throws StaleError when it is past or not written */
  writtenAt(revision: number): Written {
    const state = this.written.find((each) => each.revision === revision);
    if (!state) throw new StaleError();
    return state;
  }

  /**
   * A brief with these directives added. Where they lay time out anew, what was
   * decided about passages and places goes along with the music. Where beats are
   * followed as they are heard, the first decision that says when settles them.
   */
  decided(brief: Brief, added: readonly PlainDirective[]): Brief {
    const before = this.deskUnder(this.asItWas(brief, added));
    const { beats } = before.decisions;
    if (areHeard(beats) && added.some(saysWhen)) return withDirectives(brief, [followed(beats), ...added]);
    const next = withDirectives(brief, added);
    if (
      !added.some((each) => isAboutTime(each) || each.kind === 'version') ||
      !brief.directives.some(saysWhen)
    )
      return next;
    const after = this.deskUnder(next);
    const isSame = before.performance.clock === after.performance.clock && before.version === after.version;
    return isSame ? next : reanchored(before, after, this.pagesOf(before, after));
  }

  /** The pages of two versions of a score, as they came; null where these are no two versions of one. */
  private pagesOf(before: Desk, after: Desk): Pages | null {
    if (before.version === after.version || before.source.source !== after.source.source) return null;
    const [old, now] = [before, after].map(({ source, version }) => this.readingOf(source.source, version));
    return old?.kind === 'score' && now?.kind === 'score'
      ? { old: old.written.asRead, now: now.written.asRead }
      : null;
  }

  /** A brief that names the version that counted until now, where another one is to count and nothing was said. */
  private asItWas(brief: Brief, added: readonly PlainDirective[]): Brief {
    const { versions } = decide(brief);
    const said = added.flatMap((each): PlainDirective[] => {
      if (each.kind !== 'version' || versions.has(each.source)) return [];
      const earlier = this.readings
        .filter(({ id, version }) => id === each.source && version < each.version)
        .map(({ version }) => version);
      return earlier.length > 0 ? [{ ...each, version: Math.max(...earlier) }] : [];
    });
    return withDirectives(brief, said);
  }

  /** The parts of a source, in its newest version, as a line-up; null for a source that is not here. */
  lineUpOf(source: SourceId): LineUp | null {
    const [newest] = this.readings.filter(({ id }) => id === source).sort((a, b) => b.version - a.version);
    return newest ? lineUpOf(newest) : null;
  }

  /** The number of the newest version of a source; 0 for one that is not here. */
  newestOf(source: SourceId): number {
    return Math.max(0, ...this.readings.filter(({ id }) => id === source).map(({ version }) => version));
  }

  /** One version of a source; undefined for one that is not here. */
  readingOf(source: SourceId, version: number): Reading | undefined {
    return this.readings.find((reading) => reading.id === source && reading.version === version);
  }

  /** The same sources under another brief, whatever the present state is. */
  deskUnder(brief: Brief): Desk {
    return layOut(this.readings, brief);
  }

  /** The score under a brief, whatever the present state is; nothing that is kept changes. */
  *transcriptionUnder(brief: Brief): Generator<Progress, Transcription> {
    const text = JSON.stringify(brief.directives);
    const known = this.written.find(({ desk }) => JSON.stringify(desk.brief.directives) === text);
    if (known && !this.isNews(known)) return known.transcription;
    return yield* scoreOf(this.deskUnder(brief), brief, this.graph.fork());
  }

  private isNews({ revision }: State): boolean {
    return revision <= this.before;
  }

  /** The score of a state as no decision about its rhythm has touched it. */
  *asFound({ desk }: State): Generator<Progress, Transcription> {
    const { performance, brief } = desk;
    const without = withoutReadBy(brief, 'rhythm');
    const of = JSON.stringify(without.directives);
    if (this.found?.for === performance && this.found.of === of) return this.found.transcription;
    const transcription = yield* scoreOf(desk, without, this.graph.fork());
    this.found = { of, for: performance, transcription };
    return transcription;
  }

  /** The score of a state with something tried. */
  *tried({ desk }: State, brief: Brief): Generator<Progress, Transcription> {
    return yield* scoreOf(desk, brief, this.graph.fork());
  }
}
