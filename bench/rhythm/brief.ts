import { EMPTY_BRIEF } from '../../src/core/decisions/brief';
import { withDirectives } from '../../src/core/decisions/decisions';
import type { PlainDirective } from '../../src/core/decisions/kinds';
import { FIRST_SOURCE, type StrandId, strandId } from '../../src/core/model/ids';
import type { Performed } from './perform';
import type { Work } from './works';

/** What is told of a performed work: its upbeat, and which tracks make one part. */
export function briefFor(performed: Performed, work: Work) {
  const directives: PlainDirective[] = [{ kind: 'clock', upbeatQuarters: performed.upbeatQuarters }];
  const leaders = new Map<number, StrandId>();
  performed.tracks.forEach((track, index) => {
    const strand = strandAt(index);
    const leader = leaders.get(track.part);
    if (leader) directives.push({ kind: 'join', strand, into: leader });
    else {
      leaders.set(track.part, strand);
      if (work.parts[track.part]!.staves === 2) directives.push({ kind: 'staves', strand, staves: 2 });
    }
  });
  return { brief: withDirectives(EMPTY_BRIEF, directives), leaders };
}

/** The strand of a performed track: the first track is the clock, channel 10 is left free. */
export const strandAt = (index: number): StrandId =>
  strandId(FIRST_SOURCE, index + 1, index % 15 >= 9 ? (index % 15) + 1 : index % 15);
