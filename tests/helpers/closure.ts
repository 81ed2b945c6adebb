import { all, child, type Node, textOf } from './schema';

/** A note as a reader of the document would play it. Quarters, sounding MIDI keys. */
export interface ReadNote {
  part: string;
  onset: number;
  length: number;
  key: number;
}

const SEMITONES: Record<string, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
const TYPES: Record<string, number> = {
  breve: 8,
  whole: 4,
  half: 2,
  quarter: 1,
  eighth: 0.5,
  '16th': 0.25,
  '32nd': 0.125,
  '64th': 0.0625,
  '128th': 0.03125,
  '256th': 0.015625,
};

const near = (a: number, b: number) => Math.abs(a - b) < 1e-6;

/**
 * Reads a partwise document on its own terms and checks that its music is
 * closed: every voice fills its bar, every value matches its duration, every
 * tie, tuplet and beam that begins also ends.
 */
export function readClosed(root: Node): { notes: ReadNote[]; faults: string[] } {
  const faults: string[] = [];
  const notes: ReadNote[] = [];
  const midiKeys = new Map<string, number>();
  for (const scorePart of all(child(root, 'part-list')!, 'score-part'))
    for (const midi of all(scorePart, 'midi-instrument')) {
      const key = textOf(midi, 'midi-unpitched');
      if (key) midiKeys.set(midi.attributes.id!, Number(key) - 1);
    }
  for (const part of all(root, 'part')) {
    const name = part.attributes.id!;
    let divisions = 1;
    let chromatic = 0;
    let barStart = 0;
    let nominal = 4;
    const ties: ReadNote[] = [];
    for (const measure of all(part, 'measure')) {
      const place = `${name} bar ${measure.attributes.number}`;
      let at = 0;
      let last = 0;
      const filled = new Map<string, number>();
      const beams = new Map<string, Set<string>>();
      const tuplets = new Map<string, number>();
      for (const node of measure.children) {
        if (node.name === 'attributes') {
          divisions = Number(textOf(node, 'divisions') ?? divisions);
          const time = child(node, 'time');
          if (time) nominal = (4 * Number(textOf(time, 'beats'))) / Number(textOf(time, 'beat-type'));
          const transpose = child(node, 'transpose');
          if (transpose)
            chromatic =
              Number(textOf(transpose, 'chromatic')) + 12 * Number(textOf(transpose, 'octave-change') ?? 0);
        }
        if (node.name === 'backup') at -= Number(textOf(node, 'duration')) / divisions;
        if (node.name === 'forward') at += Number(textOf(node, 'duration')) / divisions;
        // Grace notes take no time of their bar.
        if (node.name !== 'note' || child(node, 'grace')) continue;
        const length = Number(textOf(node, 'duration')) / divisions;
        const voice = textOf(node, 'voice')!;
        const inChord = child(node, 'chord') !== undefined;
        const onset = inChord ? last : at;
        if (!inChord) {
          last = at;
          at += length;
          filled.set(voice, (filled.get(voice) ?? 0) + length);
          for (const beam of all(node, 'beam')) trackBeam(beams, voice, beam, place);
          trackTuplet(tuplets, voice, node, place);
        }
        checkValue(node, length, place);
        const pitch = child(node, 'pitch');
        const unpitched = child(node, 'unpitched');
        if (!pitch && !unpitched) continue;
        const key = pitch
          ? 12 * (Number(textOf(pitch, 'octave')) + 1) +
            SEMITONES[textOf(pitch, 'step')!]! +
            Number(textOf(pitch, 'alter') ?? 0) +
            chromatic
          : midiKeys.get(child(node, 'instrument')!.attributes.id!)!;
        const tie = all(node, 'tie').map((each) => each.attributes.type);
        // What rings on is tied to nothing.
        const tied = all(child(node, 'notations') ?? node, 'tied')
          .map((each) => each.attributes.type)
          .filter((type) => type !== 'let-ring');
        if (tie.join() !== tied.join()) faults.push(`${place}: tie and tied differ`);
        if (tie.includes('stop')) {
          const at = ties.findIndex(
            (open) => open.key === key && near(open.onset + open.length, barStart + onset),
          );
          if (at < 0) faults.push(`${place}: a tie ends that began nowhere (${key})`);
          else ties[at]!.length += length;
          if (!tie.includes('start')) ties.splice(at, 1);
        } else {
          const note = { part: name, onset: barStart + onset, length, key };
          notes.push(note);
          if (tie.includes('start')) ties.push(note);
        }
      }
      const sums = [...filled.values()];
      const size = sums[0] ?? 0;
      if (sums.some((sum) => !near(sum, size)))
        faults.push(`${place}: voices of ${sums.join(' and ')} quarters`);
      if (size > nominal + 1e-6) faults.push(`${place}: ${size} quarters in a bar of ${nominal}`);
      for (const [key, open] of beams) if (open.size > 0) faults.push(`${place}: beam ${key} does not end`);
      for (const [key, depth] of tuplets)
        if (depth !== 0) faults.push(`${place}: tuplet in voice ${key} does not end`);
      barStart += size;
    }
    if (ties.length > 0) faults.push(`${name}: ${ties.length} ties do not end`);
  }
  return { notes, faults };

  function trackBeam(beams: Map<string, Set<string>>, voice: string, beam: Node, place: string): void {
    const key = `${voice}/${beam.attributes.number}`;
    const open = beams.get(key) ?? new Set<string>();
    beams.set(key, open);
    if (beam.text === 'begin') {
      if (open.size > 0) faults.push(`${place}: beam ${key} begins twice`);
      open.add('open');
    } else if (!beam.text.includes('hook')) {
      if (open.size === 0) faults.push(`${place}: beam ${key} goes on from nowhere`);
      if (beam.text === 'end') open.clear();
    }
  }

  function trackTuplet(tuplets: Map<string, number>, voice: string, node: Node, place: string): void {
    const modified = child(node, 'time-modification') !== undefined;
    const marks = all(child(node, 'notations') ?? node, 'tuplet').map((each) => each.attributes.type);
    let depth = tuplets.get(voice) ?? 0;
    depth += marks.filter((type) => type === 'start').length;
    if (modified !== depth > 0) faults.push(`${place}: tuplet bracket and values disagree`);
    depth -= marks.filter((type) => type === 'stop').length;
    tuplets.set(voice, depth);
  }

  function checkValue(node: Node, length: number, place: string): void {
    const type = textOf(node, 'type');
    if (!type) return;
    const dots = all(node, 'dot').length;
    const modification = child(node, 'time-modification');
    const ratio = modification
      ? Number(textOf(modification, 'normal-notes')) / Number(textOf(modification, 'actual-notes'))
      : 1;
    const expected = TYPES[type]! * (2 - 0.5 ** dots) * ratio;
    if (!near(expected, length)) faults.push(`${place}: a ${type} with ${dots} dots lasts ${length}`);
  }
}
