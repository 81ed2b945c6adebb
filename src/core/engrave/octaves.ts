/** What a document is walked by: notes, steps in time, ends of octave lines. */
const TOKENS =
  /<note\b([^>]*)>([\s\S]*?)<\/note>|<(backup|forward)>\s*<duration>(\d+)|<octave-shift\b([^>]*)\/?>[\s\S]*?<\/direction>/g;

interface Line {
  staff: string;
  from: number;
  to: number;
  /** Written so many octaves lower than it sounds. */
  octaves: number;
}

/**
 * The notes under octave lines. Of MusicXML the engraver draws all the lines,
 * but leaves the notes where they sound in all parts but the first.
 *
 * @param document MusicXML as `writeMusicXml` makes it
 * @returns by how many octaves each of them (by its id) is written lower than it sounds
 */
export function notesUnderLines(document: string): Map<string, number> {
  if (!document.includes('<octave-shift')) return new Map();
  return new Map(document.split('<part id=').slice(1).flatMap(underLinesOf));
}

function underLinesOf(part: string): [string, number][] {
  let now = 0;
  const notes: { id: string; staff: string; at: number }[] = [];
  const open = new Map<string, Line>();
  const lines: Line[] = [];
  let onset = 0;
  for (const [text, noteAttributes, note = '', step, by, line] of part.matchAll(TOKENS)) {
    const staff = /<staff>(\d+)/.exec(text)?.[1] ?? '1';
    if (step) now += (step === 'backup' ? -1 : 1) * Number(by);
    else if (line !== undefined) {
      const number = `${staff} ${/number="(\d+)"/.exec(line)?.[1] ?? '1'}`;
      const type = /type="(\w+)"/.exec(line)?.[1];
      const begun = open.get(number);
      const at = now + Number(/<offset>(-?\d+)/.exec(text)?.[1] ?? 0);
      if (type === 'stop') {
        if (begun) lines.push({ ...begun, to: at });
        open.delete(number);
      } else if (type === 'up' || type === 'down') {
        const steps = Number(/size="(\d+)"/.exec(line)?.[1] ?? 8);
        const octaves = (type === 'down' ? 1 : -1) * Math.round((steps - 1) / 7);
        open.set(number, { staff, from: at, to: Number.POSITIVE_INFINITY, octaves });
      }
    } else {
      if (!note.includes('<chord/>')) onset = now;
      const id = /\bid="([^"]*)"/.exec(noteAttributes ?? '')?.[1];
      if (id && note.includes('<pitch>')) notes.push({ id, staff, at: onset });
      if (!note.includes('<chord/>')) now += Number(/<duration>(\d+)/.exec(note)?.[1] ?? 0);
    }
  }
  lines.push(...open.values());
  return notes.flatMap(({ id, staff, at }): [string, number][] => {
    const over = lines.find((line) => line.staff === staff && at >= line.from && at < line.to);
    return over ? [[id, over.octaves]] : [];
  });
}

/** The engraver's own document (MEI) with notes that stand under octave lines written where they are read. */
export const withOctaves = (mei: string, under: ReadonlyMap<string, number>): string =>
  mei.replace(/<note\b[^>]*>/g, (note) => {
    const octaves = under.get(/xml:id="([^"]*)"/.exec(note)?.[1] ?? '');
    return octaves === undefined || note.includes('oct.ges=')
      ? note
      : note.replace(/\boct="(\d+)"/, (_, oct) => `oct="${Number(oct) - octaves}" oct.ges="${oct}"`);
  });
