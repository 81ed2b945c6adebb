import { beforeAll, describe, expect, it } from 'vitest';
import type { PlainDirective } from '@/core/decisions/kinds';
import type { FretsChoice } from '@/core/decisions/kinds/frets';
import { untidyFile } from '@/core/demo/untidy';
import { instrumentOf } from '@/core/instruments/catalogue';
import { tuningsOf } from '@/core/instruments/tunings';
import type { EventId, StrandId } from '@/core/model/ids';
import type { Note, Part } from '@/core/model/score';
import { performScore } from '@/core/perform';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { type Transcription, transcribeNow } from '@/core/transcribe';
import { layOutFile } from './helpers/desk';
import { briefOf } from './helpers/made-file';
import { parseXml, schemaFaults } from './helpers/schema';

const GUITAR = '1/t10c8' as StrandId;

const read = (...directives: PlainDirective[]): Transcription => {
  const brief = briefOf(...directives);
  return transcribeNow(layOutFile(readSmf(untidyFile()), brief).performance, brief);
};
const fretted = (choice: FretsChoice, ...more: PlainDirective[]): Transcription =>
  read({ kind: 'frets', strand: GUITAR, ...choice }, ...more);

const guitarOf = ({ score }: Transcription): Part =>
  score.parts.find(({ instrument }) => instrument === 'electric-guitar')!;
const notesOn = (part: Part, staff: number): Note[] =>
  part.bars.flatMap(({ voices }) =>
    voices
      .filter((line) => line.staff === staff)
      .flatMap(({ items }) => items.flatMap((item) => (item.kind === 'chord' ? item.notes : []))),
  );
const played = (transcription: Transcription) =>
  performScore(transcription.score).parts.map(({ notes }) => notes.map(({ on, off, key }) => [on, off, key]));

describe('tablature', () => {
  let plain: Transcription;
  let both: Transcription;
  beforeAll(() => {
    plain = read();
    both = fretted({ show: 'both' });
  });

  it('stands below its staff with the same notes, each on a string where it sounds its key', () => {
    const part = guitarOf(both);
    const tuning = part.tuning!;
    expect(part.clefs).toEqual(['treble', 'tab']);
    const below = notesOn(part, 2);
    expect(below.length).toBeGreaterThan(300);
    for (const { key, string, fret } of below) expect(tuning[6 - string!]! + fret!).toBe(key);
    const above = notesOn(part, 1).filter(({ string }) => string !== undefined);
    expect(below.map(({ id }) => id)).toEqual(above.map(({ id }) => `${id}.tab`));
    // Ties stay on their strings.
    const held = new Map<number, number>();
    for (const { key, string, tieStart, tieStop } of below) {
      if (tieStop) expect(string).toBe(held.get(key));
      if (tieStart) held.set(key, string!);
    }
  });

  it('sounds once, and the account is the same', () => {
    expect(played(both)).toEqual(played(plain));
    expect(both.account).toEqual(plain.account);
  });

  it('goes out as valid MusicXML, and comes back', () => {
    for (const transcription of [both, fretted({ show: 'tab', capo: 2 })]) {
      const xml = writeMusicXml(transcription.score);
      expect(schemaFaults(parseXml(xml))).toEqual([]);
      const { score } = readMusicXml(new TextEncoder().encode(xml));
      const again = score.parts.find(({ tuning }) => tuning !== undefined)!;
      const own = guitarOf(transcription);
      expect(again.clefs).toEqual(own.clefs);
      expect(again.tuning).toEqual(own.tuning);
      const stops = (part: Part) =>
        notesOn(part, part.clefs.length).map(({ string, fret }) => `${string}:${fret}`);
      expect(stops(again)).toEqual(stops(own));
    }
  });

  it('follows its tuning and its capo', () => {
    const [, dropped] = tuningsOf(instrumentOf('electric-guitar'));
    const part = guitarOf(fretted({ show: 'tab', tuning: [...dropped!.keys], capo: 1 }));
    for (const { key, string, fret } of notesOn(part, 1))
      if (fret! > 0) expect(dropped!.keys[6 - string!]! + 1 + fret!).toBe(key);
    expect(part.bars[0]!.marks).toContainEqual(expect.objectContaining({ kind: 'words', text: 'Capo 1' }));
  });

  it('puts a note on the string that is asked for, and takes that back', () => {
    const chosen = notesOn(guitarOf(both), 1).find(({ string, tieStop }) => string === 2 && !tieStop)!;
    const note = chosen.sources[0] as EventId;
    const stringIn = (transcription: Transcription) =>
      notesOn(guitarOf(transcription), 1).find(({ sources }) => sources.includes(note))!.string;
    const asked: PlainDirective = { kind: 'string', note, string: 3 };
    expect(stringIn(fretted({ show: 'both' }, asked))).toBe(3);
    expect(stringIn(fretted({ show: 'both' }, asked, { kind: 'string', note, string: null }))).toBe(2);
  });

  it('says what no hand can stop, and loses no note of it', () => {
    // All strings a ninth higher: the lowest notes are gone from the instrument.
    const high = instrumentOf('electric-guitar').tuning!.map((key) => key + 14);
    const tab = fretted({ show: 'tab', tuning: high });
    const index = tab.score.parts.indexOf(guitarOf(tab));
    expect(tab.readings[index]!.unplayable.length).toBeGreaterThan(0);
    expect(notesOn(guitarOf(tab), 1)).toHaveLength(notesOn(guitarOf(plain), 1).length);
  });
});
