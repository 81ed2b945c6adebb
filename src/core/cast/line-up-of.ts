import { EMPTY_BRIEF } from '../decisions/brief';
import { decide } from '../decisions/decisions';
import { recogniseInstrument } from '../instruments/recognise';
import { performanceOf, type Reading } from '../sources';
import { type LineUp, makeLineUp } from './line-ups';
import { routeStrands } from './route';

/** From this confidence on a name names its instrument. */
const NAMED = 0.7;

/**
 * The parts of a source as a line-up: of a score as it lists them, with their
 * brackets, whether they sound or not; of a MIDI file its tracks in their
 * order, empty ones too where their names name an instrument.
 */
export function lineUpOf(reading: Reading): LineUp {
  const title = reading.name.replace(/\.[^.]*$/, '') || 'Line-up';
  if (reading.kind === 'score') {
    const { parts, groups = [] } = reading.written.original;
    return makeLineUp(title, parts, groups);
  }
  const performance = performanceOf(reading);
  const plans = routeStrands(performance, decide(EMPTY_BRIEF)).map((plan) => {
    const strand = performance.strands.find(({ id }) => id === plan.leader);
    return {
      track: strand?.track ?? 0,
      name: strand?.name.trim() || plan.name,
      instrument: plan.instrument.id,
    };
  });
  const empty = performance.noteFree.flatMap(({ track, name: called }) => {
    const { instrument, confidence } = recogniseInstrument({ name: called, programs: [], channel: 0 });
    return called.trim() && confidence >= NAMED
      ? [{ track, name: called.trim(), instrument: instrument.id }]
      : [];
  });
  return makeLineUp(
    title,
    [...plans, ...empty].sort((a, b) => a.track - b.track),
  );
}
