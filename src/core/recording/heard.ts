/**
 * What a machine may have made up, by what speaks against it:
 * partials and octaves of other notes; a key that rings on, or wavers, and only seems to be struck again; a key begun
 * twice; a semitone beside a stronger note; what is short and soft as breath and strings are.
 */
export const RULES = ['ghosts', 'ringing', 'doubled', 'neighbours', 'faint'] as const;
export type Rule = (typeof RULES)[number];

/** A note that may have been heard. Seconds of the recording; nothing is rounded. */
export interface MaybeNote {
  on: number;
  /** Where it would end if its key did not begin again. */
  off: number;
  /** MIDI key. */
  key: number;
  /** 1–127, from how loud it is against the others. */
  velocity: number;
  /** How far its pitch lies from its key, in cents, with the tuning of the whole taken out. */
  cents: number;
  /** What speaks for it: log-odds. */
  says: number;
  /** What each rule adds; less than nothing speaks against it. Absent for a line, which knows no rules. */
  rules?: Readonly<Record<Rule, number>>;
}

/** Ways to read a recording: as one line, as many notes at once, or as a band. */
export const READS = ['line', 'many', 'mix'] as const;
export type Read = (typeof READS)[number];
/** What is made of a band. */
export const MIX_FORMS = ['lead-sheet', 'with-bass', 'piano', 'band'] as const;
export type MixForm = (typeof MIX_FORMS)[number];
/** How hard a left hand is that is made of chords: from single notes to leaps. */
export const MIX_GRADES = [1, 2, 3] as const;
export type MixGrade = (typeof MIX_GRADES)[number];

/** How what was heard is taken. */
export interface HearingSettings {
  /** Null for as it was guessed. */
  read: Read | null;
  /** What is made of a band, and for which hands; a lead sheet, and the middle, where absent. */
  form?: MixForm;
  grade?: MixGrade;
  /** Notes of less confidence, 0–1, are left out. */
  threshold: number;
  /** Rules that may speak. */
  rules: readonly Rule[];
  /** Seconds of the recording from and to which it is taken; null for from its beginning, to its end. */
  from: number | null;
  to: number | null;
}

export const AS_HEARD: HearingSettings = { read: null, threshold: 0.5, rules: RULES, from: null, to: null };

/** A note that is taken. */
export interface TakenNote extends MaybeNote {
  /** Its place among all that may have been heard. */
  index: number;
  /** 0–1. */
  confidence: number;
}

export interface Taken {
  notes: TakenNote[];
  /** Notes that each rule alone kept out. */
  kept: Record<Rule, number>;
  /** Notes below the threshold that no rule alone kept out, of at least a tenth of confidence. */
  below: number;
  /** Notes outside the passage. */
  outside: number;
}

/** A taken note of less confidence wants a look. */
export const DOUBTFUL = 0.75;
/** Less than this nobody would have taken. */
const WORTH_A_WORD = 0.1;
/** What is left of a note that ends where its key begins again; seconds. */
const SHORTEST = 0.01;

export const oddsOf = (share: number): number => {
  const within = Math.min(0.995, Math.max(0.005, share));
  return Math.log(within / (1 - within));
};

/** How sure a note is under some rules, 0–1. */
export function confidenceOf({ says, rules }: MaybeNote, on: readonly Rule[]): number {
  let odds = says;
  // What a rule says for a note stays said without it.
  if (rules) for (const rule of RULES) odds += on.includes(rule) ? rules[rule] : Math.max(0, rules[rule]);
  return 1 / (1 + Math.exp(-odds));
}

/**
 * The notes that are taken of all that may have been heard. A key that begins again ends what it was; one that only
 * seemed to goes on.
 *
 * @param maybe in order of beginning
 */
export function take(maybe: readonly MaybeNote[], { threshold, rules, from, to }: HearingSettings): Taken {
  const taken: Taken = {
    notes: [],
    kept: { ghosts: 0, ringing: 0, doubled: 0, neighbours: 0, faint: 0 },
    below: 0,
    outside: 0,
  };
  const last = new Map<number, TakenNote>();
  maybe.forEach((note, index) => {
    const confidence = confidenceOf(note, rules);
    if (note.on < (from ?? 0) || note.on >= (to ?? Number.POSITIVE_INFINITY)) {
      if (confidence >= threshold) taken.outside++;
      return;
    }
    if (confidence < threshold) {
      const alone = note.rules
        ? rules.find(
            (rule) =>
              note.rules![rule] < 0 &&
              confidenceOf(
                note,
                rules.filter((each) => each !== rule),
              ) >= threshold,
          )
        : undefined;
      if (alone) taken.kept[alone]++;
      else if (confidence >= WORTH_A_WORD) taken.below++;
      return;
    }
    const before = last.get(note.key);
    if (before && before.off > note.on) before.off = Math.max(before.on + SHORTEST, note.on);
    const made = { ...note, off: Math.min(note.off, to ?? note.off), index, confidence };
    last.set(note.key, made);
    taken.notes.push(made);
  });
  return taken;
}
