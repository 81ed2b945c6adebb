import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lanternFerry } from '../../demo/lantern-ferry';
import { instrumentOf } from '../../instruments/catalogue';
import { readMusicXml } from './read';
import { spliced, type Wanted } from './splice';
import { writeMusicXml } from './write';

const part = (id: string, name: string) => `    <score-part id="${id}">
      <part-name>${name}</part-name>
      <part-name-display><display-text>${name}</display-text></part-name-display>
      <part-abbreviation>Fl.</part-abbreviation>
      <score-instrument id="${id}-I1"><instrument-name>Flute</instrument-name><instrument-sound>wind.flutes.flute</instrument-sound></score-instrument>
      <midi-instrument id="${id}-I1"><midi-channel>1</midi-channel><midi-program>74</midi-program></midi-instrument>
    </score-part>`;
const music = (step: string) =>
  `<measure number="1"><attributes><divisions>1</divisions></attributes><note default-x="12" color="#123"><pitch><step>${step}</step><octave>4</octave></pitch><duration>4</duration><type>whole</type></note></measure>`;

/** What no model has a place for must survive: comments, layout, odd white space, an emoji, carriage returns. */
const DOCUMENT = `<?xml version="1.0" encoding="ISO-8859-1"?>\r
<!-- 🎺 kept -->\r
<score-partwise version="3.1">
  <work><work-title>Old &amp; new</work-title></work>
  <credit page="1"><credit-words font-size="22">Old &amp; new</credit-words></credit>
  <part-list>
${part('P1', 'Flute 1')}
${part('P2', 'Flute 2')}
${part('P3', 'Piccolo')}
  </part-list>
  <part id="P1">${music('C')}</part>
  <part  id="P2" >${music('D')}</part>
  <part id="P3">${music('E')}</part>
</score-partwise>
`;
const kept = (text: string) =>
  readMusicXml(new TextEncoder().encode(text.replace('ISO-8859-1', 'UTF-8'))).document;
const document = kept(DOCUMENT);
const all: Wanted['parts'] = [{ id: 'P1' }, { id: 'P2' }, { id: 'P3' }];
const lines = (text: string) => text.split('\n');
/** Lines of the one that the other does not have. */
const changedLines = (before: string, after: string) => {
  const known = lines(before);
  return lines(after).filter((line) => !known.includes(line));
};

describe('changes written into a document', () => {
  it('leave it as it is where nothing is wanted', () => {
    expect(spliced(document, { parts: all })).toBe(document.text);
  });

  it('touch the lines that they are about, and no other', () => {
    const named = spliced(document, {
      title: 'New',
      parts: [{ id: 'P1', name: 'Solo <1>', abbreviation: 'S.' }, { id: 'P2' }, { id: 'P3' }],
    });
    expect(lines(named).length).toBe(lines(document.text).length);
    expect(changedLines(document.text, named)).toEqual([
      '  <work><work-title>New</work-title></work>',
      '  <credit page="1"><credit-words font-size="22">New</credit-words></credit>',
      '      <part-name>Solo &lt;1&gt;</part-name>',
      '      <part-name-display><display-text>Solo &lt;1&gt;</display-text></part-name-display>',
      '      <part-abbreviation>S.</part-abbreviation>',
    ]);
  });

  it('put parts in another order, with what was changed in them', () => {
    const text = spliced(document, { parts: [{ id: 'P3' }, { id: 'P1', name: 'Solo' }, { id: 'P2' }] });
    const { score, partIds } = readMusicXml(new TextEncoder().encode(text));
    expect(partIds).toEqual(['P3', 'P1', 'P2']);
    expect(score.parts.map(({ name }) => name)).toEqual(['Piccolo', 'Solo', 'Flute 2']);
    expect([...text.matchAll(/<step>(.)/g)].map(([, step]) => step)).toEqual(['E', 'C', 'D']);
    expect(text).toContain('<part  id="P2" >');
  });

  it('take parts out with their lines', () => {
    const text = spliced(document, { parts: [{ id: 'P1' }, { id: 'P3' }] });
    expect(text).not.toContain('P2');
    expect(text.match(/\n\s*\n/g)).toBeNull();
    expect(changedLines(document.text, text)).toEqual([]);
  });

  it('give a part another instrument in sound and name', () => {
    const text = spliced(document, {
      parts: [{ id: 'P1', instrument: instrumentOf('oboe') }, { id: 'P2' }, { id: 'P3' }],
    });
    expect(text).toContain(
      '<instrument-name>Oboe</instrument-name><instrument-sound>wind.reed.oboe</instrument-sound>',
    );
    expect(text).toContain('<midi-program>69</midi-program>');
    expect(text.match(/<midi-program>74/g)!.length).toBe(2);
  });

  it('go into each bar where bars hold parts', () => {
    const timewise = kept(
      `<score-timewise><part-list><score-part id="P1"><part-name>A</part-name></score-part><score-part id="P2"><part-name>B</part-name></score-part></part-list>${[
        1, 2,
      ]
        .map(
          (number) =>
            `<measure number="${number}">${['P1', 'P2'].map((id) => `<part id="${id}"><note><rest/><duration>4</duration></note><!-- ${id} --></part>`).join('')}</measure>`,
        )
        .join('')}</score-timewise>`,
    );
    const text = spliced(timewise, { parts: [{ id: 'P2' }, { id: 'P1' }] });
    expect([...text.matchAll(/<!-- (P\d) -->/g)].map(([, id]) => id)).toEqual(['P2', 'P1', 'P2', 'P1']);
    expect(spliced(timewise, { parts: [{ id: 'P2' }] })).not.toContain('P1');
  });

  it('are a title of its own where the document has none', () => {
    const bare = kept(DOCUMENT.replace(/ {2}<work>.*\n {2}<credit.*\n/, ''));
    expect(spliced(bare, { title: 'Here', parts: all })).toContain(
      '<score-partwise version="3.1"><work><work-title>Here</work-title></work>',
    );
  });

  it('come out as they were asked for, whatever is asked of the demo piece', () => {
    const ferry = kept(writeMusicXml(lanternFerry()));
    const { partIds } = readMusicXml(new TextEncoder().encode(ferry.text));
    fc.assert(
      fc.property(
        fc.shuffledSubarray(partIds, { minLength: 1 }),
        fc.dictionary(
          fc.constantFrom(...partIds),
          fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme-ascii' }),
        ),
        (order, names) => {
          const parts = order.map((id) => ({ id, ...(names[id] && { name: names[id] }) }));
          const after = readMusicXml(new TextEncoder().encode(spliced(ferry, { parts })));
          expect(after.partIds).toEqual(order);
          expect(after.mends).toEqual([]);
          for (const [index, id] of order.entries())
            if (names[id]?.trim()) expect(after.score.parts[index]!.name).toBe(names[id].trim());
        },
      ),
      { numRuns: 12 },
    );
  });
});
