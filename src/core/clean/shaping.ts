import type { StrandDecisions } from '../decisions/decisions';
import { instrumentOf } from '../instruments/catalogue';
import { recogniseInstrument } from '../instruments/recognise';
import { choosesProgram, fitsLane, laneName, laneOf, neutralised } from '../model/lanes';
import type { Placed, ShapingEvent, Strand } from '../model/performance';
import type { CleanStep } from './step';

/** Keeps, thins or removes controllers, bends and pressures. */
export const thinControllers: CleanStep = (strand, { controllers }, _clock, report) => {
  if (!controllers || controllers.length === 0) return strand;
  const before = new Map<string, number>();
  const after = new Map<string, number>();
  const count = (counts: Map<string, number>, lane: string) => counts.set(lane, (counts.get(lane) ?? 0) + 1);
  const seen = new Set<string>();
  const shaping: Placed[] = [];
  for (const placed of strand.shaping) {
    const lane = laneOf(placed.event);
    // Programs and banks have a directive of their own.
    const rule = lane === null || choosesProgram(placed.event) ? null : ruleFor(controllers, lane, placed);
    if (lane === null || !rule) {
      shaping.push(placed);
      continue;
    }
    count(before, lane);
    const event = applied(rule.use, placed.event, seen.has(lane));
    seen.add(lane);
    if (!event) continue;
    shaping.push({ order: placed.order, event });
    count(after, lane);
  }
  if (before.size === 0) return strand;
  for (const [lane, found] of before) report(laneName(lane), found, after.get(lane) ?? 0);
  return { ...strand, shaping };
};

type Rule = NonNullable<StrandDecisions['controllers']>[number];

function ruleFor(rules: readonly Rule[], lane: string, { event }: Placed): Rule | null {
  const rule = rules.findLast(
    ({ lanes, from = 0, to = Number.POSITIVE_INFINITY }) =>
      event.tick >= from && event.tick < to && lanes.some((pattern) => fitsLane(pattern, lane)),
  );
  return rule && rule.use !== 'keep' ? rule : null;
}

function applied(use: Rule['use'], event: ShapingEvent, seen: boolean): ShapingEvent | null {
  if (use === 'remove' || seen) return null;
  return use === 'neutral' ? neutralised(event) : event;
}

/**
 * Sets or removes program and bank changes. What the source says of programs
 * stays on the strand, since casting goes by it.
 */
export const setPrograms: CleanStep = (strand, { programs, instrument }, _clock, report) => {
  if (!programs || programs.use === 'source') return strand;
  const chosen = strand.shaping.filter(({ event }) => choosesProgram(event));
  const rest = strand.shaping.filter(({ event }) => !choosesProgram(event));
  const at = (event: ShapingEvent): Placed => ({ order: -1, event });
  const { channel } = strand;
  const programEvent = (program: number) => at({ kind: 'program', tick: 0, channel, program });
  let fresh: Placed[] = [];
  if (programs.use === 'first') {
    const first = chosen.findIndex(({ event }) => event.kind === 'program');
    fresh = chosen.slice(0, first + 1);
  } else if (programs.use === 'instrument') {
    const cast = instrument ? instrumentOf(instrument) : recogniseInstrument(strand).instrument;
    fresh = [programEvent(cast.program)];
  } else if (programs.use === 'number') {
    const { bank, program = 1 } = programs;
    if (bank !== undefined)
      fresh.push(
        at({ kind: 'control', tick: 0, channel, controller: 0, value: bank >> 7 }),
        at({ kind: 'control', tick: 0, channel, controller: 32, value: bank & 127 }),
      );
    fresh.push(programEvent(program - 1));
  }
  report('programs and banks', chosen.length, fresh.length);
  return { ...strand, shaping: [...fresh, ...rest] };
};

/** Moves a strand to another channel. */
export const setChannel: CleanStep = (strand, { channel }, _clock, report) => {
  if (channel === undefined || channel === strand.channel) return strand;
  report('channel', strand.channel + 1, channel + 1);
  return moveToChannel(strand, channel);
};

/** The same strand on another channel, 0–15. */
export const moveToChannel = (strand: Strand, channel: number): Strand => ({
  ...strand,
  channel,
  shaping: strand.shaping.map(({ order, event }) => ({ order, event: { ...event, channel } })),
});
