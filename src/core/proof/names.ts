import { instrumentOf } from '../instruments/catalogue';
import { recogniseInstrument, SURE } from '../instruments/recognise';
import type { Check, Found } from './finding';

/** Parts without a name of their own, and names that say another instrument or transposition than the part has. */
export const checkNames: Check = ({ result: { plans, score }, desk }) => {
  const counts = new Map<string, number>();
  for (const { name } of plans) counts.set(name, (counts.get(name) ?? 0) + 1);
  return plans.flatMap(({ name, instrument, leader, why }, part): Found[] => {
    const found: Found[] = [];
    if (name.trim() === '')
      found.push({ weight: 'wrong', part, about: 'none', what: 'The part has no name.' });
    else if (counts.get(name)! > 1)
      found.push({ weight: 'wrong', part, about: 'twice', what: `Another part is called ${name}, too.` });
    const said = recogniseInstrument({ name, programs: [], channel: 0 });
    const own = score.parts[part]!.transposition;
    const named = said.instrument;
    if (
      said.confidence >= SURE &&
      named.id !== instrument.id &&
      named.transposition.chromatic !== own.chromatic &&
      named.family === instrument.family
    )
      found.push({
        weight: 'doubtful',
        part,
        about: 'transposition',
        what: `Named ${name}, but written for ${instrument.name}.`,
        mends: [
          {
            label: `For ${named.name}`,
            directives: [{ kind: 'cast', strand: leader, instrument: named.id }],
          },
        ],
      });
    const guess = desk.performance.strands.find(({ id }) => id === leader);
    const isDecided = desk.decisions.strands.get(leader)?.instrument !== undefined;
    if (!isDecided && guess && !desk.written && recogniseInstrument(guess).confidence < SURE)
      found.push({
        weight: 'doubtful',
        part,
        about: 'guess',
        what: `${instrumentOf(instrument.id).name} is a guess. ${why}`,
        mends: [
          {
            label: `${instrument.name} it is`,
            directives: [{ kind: 'cast', strand: leader, instrument: instrument.id }],
          },
        ],
      });
    return found;
  });
};
