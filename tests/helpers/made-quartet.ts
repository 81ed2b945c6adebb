import { seeded } from '@/core/basics/random';

const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;
const SIGNS = ['trill-mark', 'mordent', 'inverted-mordent', 'turn', 'inverted-turn', 'tremolo'] as const;
/** Sixteenths, and the names of their values. */
const VALUES: readonly (readonly [length: number, name: string])[] = [
  [1, '16th'],
  [2, 'eighth'],
  [2, 'eighth'],
  [4, 'quarter'],
  [4, 'quarter'],
  [8, 'half'],
  [16, 'whole'],
];
const NAMES = ['Violin I', 'Violin II', 'Viola', 'Violoncello'];

/** A quartet of chance as MusicXML: notes, chords, rests, grace notes, and signs over every third note. */
export function madeQuartet(seed: number, bars = 16): string {
  const random = seeded(seed);
  const pick = <T>(all: readonly T[]): T => all[Math.floor(random() * all.length)]!;
  const note = (step: string, octave: number, inner: string, before = '') =>
    `<note>${before}<pitch><step>${step}</step><octave>${octave}</octave></pitch>${inner}</note>`;
  const bar = (part: number): string => {
    let left = 16;
    let out = '';
    while (left > 0) {
      const [length, name] = pick(VALUES.filter(([each]) => each <= left));
      left -= length;
      const value = `<duration>${length}</duration><voice>1</voice><type>${name}</type>`;
      if (random() < 0.12) {
        out += `<note><rest/>${value}</note>`;
        continue;
      }
      const octave = 5 - part + Math.floor(random() * 2);
      const sign = random() < 0.35 ? pick(SIGNS) : null;
      const says =
        sign === null
          ? ''
          : `<notations><ornaments>${sign === 'tremolo' ? '<tremolo type="single">3</tremolo>' : `<${sign}/>`}</ornaments></notations>`;
      if (random() < 0.1) out += note(pick(STEPS), octave, '<voice>1</voice><type>eighth</type>', '<grace/>');
      out += note(pick(STEPS), octave, value + says);
      if (random() < 0.2) out += note(pick(STEPS), octave + 1, value, '<chord/>');
    }
    return out;
  };
  const parts = NAMES.map(
    (_, part) =>
      `<part id="P${part + 1}">${Array.from(
        { length: bars },
        (_, at) =>
          `<measure number="${at + 1}">${at === 0 ? '<attributes><divisions>4</divisions><time><beats>4</beats><beat-type>4</beat-type></time></attributes>' : ''}${bar(part)}</measure>`,
      ).join('')}</part>`,
  );
  const list = NAMES.map(
    (name, part) => `<score-part id="P${part + 1}"><part-name>${name}</part-name></score-part>`,
  );
  return `<score-partwise version="4.0"><part-list>${list.join('')}</part-list>${parts.join('')}</score-partwise>`;
}
