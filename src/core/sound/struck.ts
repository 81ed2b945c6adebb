import type { StrandId } from '../model/ids';
import type { Struck } from '../recording/onsets';
import { NOTE_ON, type Timeline } from './events';

/**
 * The notes of a timeline as they are struck: what to listen for in a recording of it.
 * @param only of these strands; of all where absent
 */
export function struckOf(
  { kind, channel, first, second, seconds, voicings }: Timeline,
  only?: ReadonlySet<StrandId>,
): Struck[] {
  const struck: Struck[] = [];
  for (let at = 0; at < kind.length; at++)
    if (kind[at] === NOTE_ON && (!only || only.has(voicings[channel[at]!]!.strand)))
      struck.push({
        at: seconds[at]!,
        key: first[at]!,
        velocity: second[at]!,
        pitched: !voicings[channel[at]!]!.isDrum,
      });
  return struck;
}
