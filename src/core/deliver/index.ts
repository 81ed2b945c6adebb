import { fileNames } from '../basics/file-names';
import type { PartPlan } from '../cast/route';
import { plansOf } from '../cast/written';
import type { Desk } from '../clean/desk';
import { soundingOf } from '../clean/sounding';
import type { Decisions } from '../decisions/decisions';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import type { EventId } from '../model/ids';
import type { Lane } from '../model/lanes';
import type { Performance } from '../model/performance';
import type { PerformSettings } from '../perform/settings';
import { writeSmf } from '../sources/smf/write';
import type { Transcription } from '../transcribe';
import { contentOf, type HandOverFile, handOver } from './hand-over';
import { isZip } from './is-zip';
import { cutLoops, type Loop } from './loops';
import { needsScore, withNoteTimes } from './note-times';
import { type DeliveredFile, zipOf } from './parts';
import type { HandOverSource, Manner } from './source';

export type { TrackContent } from './hand-over';
export { isZip } from './is-zip';
export { needsScore } from './note-times';

/** What a hand-over will hold: one file, or loops. */
export type Preview = Omit<HandOverFile, 'smf'> & { loops: Loop[] | null };

/** What goes out: the cleaned performance with its variation, by the roster. */
export function handOverSource(
  desk: Desk,
  choice: HandOverChoice = desk.decisions.handOver,
  written: Transcription | null = null,
): HandOverSource {
  const { file, source, performance, decisions, written: score } = desk;
  const isTimed = written !== null && needsScore(choice);
  const plans = plansOf(performance, decisions, score?.score.parts ?? null);
  return {
    file,
    source,
    performance: isTimed
      ? soundingOf(desk, withNoteTimes(performance, written, choice), loudnessOf(decisions))
      : soundingOf(desk, performance),
    decisions,
    plans,
    manners: mannersOf(performance, plans),
    staves: written && choice.apart?.includes('hands') ? stavesOf(written) : new Map(),
    asked: [
      ...(score ? curveLanes(decisions.perform) : []),
      ...(desk.player && decisions.playLike?.takes.includes('controllers') ? EXPRESSION : []),
    ],
    title: decisions.title ?? performance.title,
  };
}

/** Notes that stand where the staff has them take no more of another playing than how loud they are. */
const loudnessOf = ({ playLike }: Decisions) => playLike?.takes.filter((each) => each === 'velocity');

/** The staff of each note of the parts that have two, as the score has them. */
function stavesOf({ score }: Transcription): Map<EventId, number> {
  const staves = new Map<EventId, number>();
  for (const { clefs, bars } of score.parts) {
    if (clefs.length < 2 || clefs.includes('tab')) continue;
    for (const { voices } of bars)
      for (const { items, staff } of voices)
        for (const item of items)
          if (item.kind === 'chord')
            for (const { sources } of item.notes)
              for (const event of sources) if (!staves.has(event)) staves.set(event, staff);
  }
  return staves;
}

/** How notes are played: as they say themselves, and those of strands that were joined as their strand's name says. */
function mannersOf({ strands }: Performance, plans: readonly PartPlan[]): Map<EventId, Manner> {
  const manners = new Map<EventId, Manner>();
  for (const { notes } of strands)
    for (const { id, technique, players } of notes)
      if (technique || players)
        manners.set(id, { ...(technique && { technique }), ...(players && { players }) });
  for (const plan of plans) {
    if (plan.strands.length < 2) continue;
    plan.strands.forEach((id, index) => {
      const technique = plan.techniques[index];
      if (!technique) return;
      for (const note of strands.find((strand) => strand.id === id)?.notes ?? [])
        manners.set(note.id, { technique });
    });
  }
  return manners;
}

/** Mixer lanes that come with another source’s playing. */
const EXPRESSION: readonly Lane[] = ['cc11'];

const curveLanes = ({ dynamics, curve }: PerformSettings): Lane[] =>
  dynamics === 'curve' || dynamics === 'both'
    ? curve.controllers.map((controller): Lane => `cc${controller}`)
    : [];

/**
 * A Standard MIDI File, or a zip of them for loops, in the form of the brief.
 * @param written the score under the same brief, where notes are to stand as written (`needsScore`)
 */
export function deliverMidi(
  desk: Desk,
  choice: HandOverChoice = desk.decisions.handOver,
  written: Transcription | null = null,
): Uint8Array {
  const input = handOverSource(desk, choice, written);
  if (choice.form === 'loops') return cutLoops(input, choice).zip();
  const { smf } = handOver(input, choice);
  return isZip(choice) ? zipOf(eachTrack(smf)) : writeSmf(smf);
}

/** Every track with notes as a file of its own, behind the clock. */
function eachTrack(smf: HandOverFile['smf']): DeliveredFile[] {
  const [clock, ...others] = smf.tracks;
  const sounding = others.filter(({ events }) => events.some(({ kind }) => kind === 'noteOn'));
  const names = fileNames(sounding.map((track) => contentOf(track).name));
  return sounding.map((track, index) => ({
    path: `${names[index]}.mid`,
    bytes: writeSmf({ ...smf, tracks: clock ? [clock, track] : [track] }),
  }));
}

/** What the preview says of where notes stand. */
function timesRemark({ times = 'played', leads }: HandOverChoice): string {
  if (times === 'played')
    return 'Notes stand as they were played, on the beat where they were ahead of it or behind.';
  const kept = leads === 'kept' ? ', as far ahead of it as they were played,' : '';
  return times === 'written'
    ? `Notes stand where the staff has them${kept} and last as long as they are written.`
    : `Notes stand where the staff has them${kept} and last as long as they were played.`;
}

/** What `deliverMidi` would write. */
export function previewMidi(desk: Desk, choice: HandOverChoice = desk.decisions.handOver): Preview {
  const input = handOverSource(desk);
  if (choice.form === 'loops') {
    const { loops } = cutLoops(input, choice);
    return { loops, contents: [], omissions: [], remarks: [], untouched: false };
  }
  const { smf: _, ...preview } = handOver(input, choice);
  const remarks = [
    ...preview.remarks,
    ...(needsScore(choice) ? [timesRemark(choice)] : []),
    ...(choice.apart?.includes('hands')
      ? ['Parts on two staves have a track for each hand, as the score has them.']
      : []),
  ];
  return { ...preview, remarks, loops: null };
}
