import { append } from '../basics/append';
import type { FretsChoice } from '../decisions/kinds/frets';
import type { Strings } from '../decisions/kinds/string';
import { type FrettedChord, fingerings, type Stop } from '../infer/frets/fingering';
import { instrumentOf } from '../instruments/catalogue';
import { isFretted } from '../instruments/tunings';
import { secondsAt } from '../model/clock';
import { type Frame, tickOfMoment } from '../model/frame';
import type { Chord, Item, Note, Part, PartBar } from '../model/score';
import type { Moment } from '../model/time';

export interface WithTablature {
  part: Part;
  /** Where chords stand that no hand can stop. */
  unplayable: Moment[];
}

/** A part as it was chosen to be read: from its staff, tablature below it, or tablature alone; strings and frets with both. */
export function withTablature(
  part: Part,
  choice: FretsChoice | undefined,
  asked: Strings,
  frame: Frame,
): WithTablature {
  const instrument = instrumentOf(part.instrument);
  const tuning = choice?.tuning ?? instrument.tuning;
  if (!choice || choice.show === 'staff' || !isFretted(instrument) || !tuning || part.clefs.length !== 1)
    return { part, unplayable: [] };
  const struck = struckChords(part.bars, frame, asked);
  const found = fingerings(struck, { tuning, capo: choice.capo ?? 0 });
  const stops = new Map<string, Stop>();
  const unplayable: Moment[] = [];
  struck.forEach(({ ids, keys, moment }, index) => {
    const own = found[index];
    if (!own) unplayable.push(moment);
    keys.forEach((key, at) => {
      const stop = own?.[at] ?? (choice.show === 'tab' ? nearest(key, tuning, choice.capo ?? 0) : null);
      if (stop) for (const id of ids.get(key) ?? []) stops.set(id, stop);
    });
  });
  holdOn(part.bars, stops);
  const fretted = part.bars.map((bar) => onChords(bar, (note) => ({ ...note, ...stops.get(note.id) })));
  const capo = choice.capo ? [{ kind: 'words', text: `Capo ${choice.capo}`, at: 0 } as const] : [];
  const dressed = (choice.stems ?? choice.show === 'tab') ? (line: Line) => line : withoutStems;
  const bars = fretted.map((bar, index) => {
    const marked = index === 0 && capo.length > 0 ? { ...bar, marks: [...capo, ...(bar.marks ?? [])] } : bar;
    if (choice.show === 'tab')
      return { ...marked, voices: marked.voices.map((line) => dressed(withoutLowRests(line))) };
    return { ...marked, voices: [...marked.voices, ...bar.voices.map((line) => dressed(onTab(line)))] };
  });
  const { changes = [], spanners = [], ...others } = part;
  // Clefs and octave lines are for what is read on a staff.
  const isTab = choice.show === 'tab';
  const kept = isTab ? changes.filter(({ kind }) => kind !== 'clef') : changes;
  const lines = isTab ? spanners.filter(({ kind }) => kind !== 'octave') : spanners;
  return {
    part: {
      ...others,
      clefs: isTab ? ['tab'] : [...part.clefs, 'tab'],
      tuning: [...tuning],
      bars,
      ...(kept.length > 0 && { changes: kept }),
      ...(lines.length > 0 && { spanners: lines }),
    },
    unplayable,
  };
}

/** Where a note that no hand reaches has a place all the same, on tablature alone. */
function nearest(key: number, tuning: readonly number[], capo: number): Stop {
  const frets = tuning.map((open, at) => ({ string: tuning.length - at, fret: key - open - capo }));
  const [best] = frets.toSorted((a, b) => Number(a.fret < 0) - Number(b.fret < 0) || a.fret - b.fret);
  return { string: best!.string, fret: Math.max(0, best!.fret) };
}

interface Struck extends FrettedChord {
  moment: Moment;
  /** Notes of each key. */
  ids: Map<number, string[]>;
}

/** What is struck together, over all voices, in order; grace notes one by one before. */
function struckChords(bars: readonly PartBar[], frame: Frame, asked: Strings): Struck[] {
  const byMoment = new Map<Moment, { graces: Note[]; notes: Note[] }>();
  bars.forEach(({ voices }, index) => {
    const { start } = frame.bars[index]!;
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        const moment = start + item.onset;
        const known = byMoment.get(moment) ?? { graces: [], notes: [] };
        append(known.graces, item.graces ?? []);
        append(
          known.notes,
          item.notes.filter(({ tieStop }) => !tieStop),
        );
        byMoment.set(moment, known);
      }
  });
  const chordOf = (notes: readonly Note[], moment: Moment): Struck => {
    const ids = new Map<number, string[]>();
    const strings = new Map<number, number>();
    for (const { id, key, sources } of notes) {
      ids.set(key, [...(ids.get(key) ?? []), id]);
      for (const source of sources) {
        const string = asked.get(source);
        if (string !== undefined) strings.set(key, string);
      }
    }
    const at = secondsAt(frame.clock, tickOfMoment(frame, moment));
    return { keys: [...ids.keys()].sort((a, b) => a - b), ids, strings, moment, at };
  };
  return [...byMoment]
    .sort(([a], [b]) => a - b)
    .flatMap(([moment, { graces, notes }]) => [
      ...graces.map((grace) => chordOf([grace], moment)),
      ...(notes.length > 0 ? [chordOf(notes, moment)] : []),
    ]);
}

/** A note that is tied on stays on its string. */
function holdOn(bars: readonly PartBar[], stops: Map<string, Stop>): void {
  const held = new Map<number, Stop>();
  for (const { voices } of bars)
    for (const { items } of voices)
      for (const item of items) {
        if (item.kind !== 'chord') continue;
        for (const { id, key, tieStop } of item.notes) {
          const before = tieStop ? held.get(key) : undefined;
          const stop = stops.get(id) ?? before;
          if (!stop) continue;
          stops.set(id, stop);
          held.set(key, stop);
        }
      }
}

type Line = PartBar['voices'][number];

/** Numbers alone: neither stems, nor beams and brackets that hang on them, nor rests. */
const withoutStems = (line: Line): Line => ({
  ...line,
  items: line.items.map((item): Item => {
    const { tuplet, ...plain } = item;
    const { edge: _, ...inner } = tuplet ?? {};
    const counted = tuplet && { tuplet: inner as NonNullable<Item['tuplet']> };
    if (plain.kind === 'rest') return { ...plain, ...counted, hidden: true };
    const { beams: __, ...chord } = plain;
    return { ...chord, ...counted, stemless: true };
  }),
});

/** On tablature rests are read once, in the upper voice. */
const withoutLowRests = (line: Line): Line =>
  line.voice === 1
    ? line
    : {
        ...line,
        items: line.items.map((item): Item => (item.kind === 'rest' ? { ...item, hidden: true } : item)),
      };

const onChords = (bar: PartBar, make: (note: Note) => Note): PartBar => ({
  ...bar,
  voices: bar.voices.map((line) => ({
    ...line,
    items: line.items.map(
      (item): Item =>
        item.kind === 'rest'
          ? item
          : {
              ...item,
              notes: item.notes.map(make),
              ...(item.graces && { graces: item.graces.map(make) }),
            },
    ),
  })),
});

/** A voice on the tablature staff: the same notes by their frets, and nothing of what the staff above says already. */
function onTab(line: Line): Line {
  const below = (note: Note): Note => {
    const { accidental: _, staff: __, ...others } = note;
    return { ...others, id: `${note.id}.tab`, sources: [] };
  };
  return {
    ...line,
    staff: 2,
    items: line.items.map((item): Item => {
      const isStopped = item.kind === 'chord' && item.notes.some(({ string }) => string !== undefined);
      if (item.kind === 'rest' || !isStopped) {
        const { onset, duration, value, tuplet } = item;
        return { kind: 'rest', onset, duration, value, ...(tuplet && { tuplet }), hidden: true };
      }
      const { marks: _, lyrics: __, graces, gracesAfter: ___, ...chord }: Chord = item;
      const stopped = graces?.filter(({ string }) => string !== undefined);
      return {
        ...chord,
        notes: item.notes.map(below),
        ...(stopped && stopped.length > 0 && { graces: stopped.map(below) }),
      };
    }),
  };
}
