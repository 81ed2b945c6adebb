import { routeStrands } from '../cast/route';
import type { Desk } from '../clean/desk';
import { vary } from '../clean/vary';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import { writeSmf } from '../sources/smf/write';
import { type HandOverFile, handOver } from './hand-over';
import { cutLoops, type Loop } from './loops';
import type { HandOverSource } from './source';

export type { TrackContent } from './hand-over';

/** What a hand-over will hold: one file, or loops. */
export type Preview = Omit<HandOverFile, 'smf'> & { loops: Loop[] | null };

/** What goes out: the cleaned performance with its variation, by the roster. */
export function handOverSource({ smf, source, performance, decisions }: Desk): HandOverSource {
  return {
    smf,
    source,
    performance: vary(performance, decisions),
    decisions,
    plans: routeStrands(performance, decisions),
    title: decisions.title ?? performance.title,
  };
}

/** A Standard MIDI File, or a zip of them for loops, in the form of the brief. */
export function deliverMidi(desk: Desk, choice: HandOverChoice = desk.decisions.handOver): Uint8Array {
  const input = handOverSource(desk);
  return choice.form === 'loops' ? cutLoops(input, choice).zip() : writeSmf(handOver(input, choice).smf);
}

/** What `deliverMidi` would write. */
export function previewMidi(desk: Desk, choice: HandOverChoice = desk.decisions.handOver): Preview {
  const input = handOverSource(desk);
  if (choice.form === 'loops') {
    const { loops } = cutLoops(input, choice);
    return { loops, contents: [], omissions: [], remarks: [], untouched: false };
  }
  const { smf: _, ...preview } = handOver(input, choice);
  return { ...preview, loops: null };
}
