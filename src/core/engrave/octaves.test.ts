import { describe, expect, it } from 'vitest';
import { engraver } from '../../../tests/helpers/verovio';
import { lanternFerry } from '../demo/lantern-ferry';
import type { Part, Score } from '../model/score';
import { writeMusicXml } from '../sources/musicxml/write';
import { mendedMei } from './mend';
import { notesUnderLines } from './octaves';
import { sliceScore } from './slice';

const ferry = lanternFerry();
const [flute, clarinet] = ferry.parts as [Part, Part];
const from = { bar: 1, at: 0 };
const to = { bar: 3, at: 0 };
const line = { id: 'o', kind: 'octave' as const, octaves: 1 as const, from, to, placement: 'above' as const };
const lined: Part = { ...flute, spanners: [line] };
/** The same line over the flute, above and below a part without one. */
const document = (parts: Part[]): string => {
  const score: Score = { ...ferry, parts, groups: [] };
  return writeMusicXml(sliceScore(score, new Set(parts.map(({ id }) => id)), 0, 4));
};
const first = document([lined, clarinet]);
const second = document([clarinet, lined]);

/** Of each note by its id, how far its head stands below the top line of its staff, in drawing units. */
async function heights(text: string, isMended: boolean): Promise<Map<string, number>> {
  const toolkit = await engraver();
  toolkit.setOptions({ breaks: 'none', adjustPageWidth: true });
  toolkit.loadData(text);
  const mended = isMended ? mendedMei(text, () => toolkit.getMEI()) : null;
  if (mended !== null) toolkit.loadData(mended);
  const svg = toolkit.renderToSVG(1);
  return new Map(
    svg
      .split(/class="staff"/)
      .slice(1)
      .flatMap((staff) => {
        const top = Number(/<path d="M\d+ (\d+)/.exec(staff)?.[1]);
        return [
          ...staff.matchAll(
            /<g (?:id="([^"]+)" class="note"|class="note" id="([^"]+)")[\s\S]*?translate\(\d+, (\d+)\)/g,
          ),
        ].map(([, id, other, y]): [string, number] => [id ?? other ?? '', Number(y) - top]);
      }),
  );
}

describe('octave lines in a window', () => {
  it('have the notes between their ends under them, and no other', () => {
    const under = flute.bars
      .slice(1, 3)
      .flatMap(({ voices }) => voices)
      .flatMap(({ items }) => items)
      .flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ id }) => id) : []));
    expect(under.length).toBeGreaterThan(4);
    for (const text of [first, second]) {
      const found = notesUnderLines(text);
      expect([...found.keys()].filter((id) => under.some((own) => id.startsWith(own)))).toHaveLength(
        found.size,
      );
      expect(found.size).toBe(under.length);
      expect(new Set(found.values())).toEqual(new Set([1]));
    }
    expect(notesUnderLines(document([flute, clarinet])).size).toBe(0);
  });

  it('show their notes where they are read, in whichever part', async () => {
    const above = await heights(first, true);
    const below = await heights(second, true);
    expect(below).toEqual(above);
    const bare = await heights(document([flute]), false);
    const moved = [...bare].filter(([id, y]) => above.get(id) !== y).map(([id]) => id);
    expect(new Set(moved)).toEqual(new Set(notesUnderLines(first).keys()));
  });

  it('need the engraver’s own document, as long as it moves the notes of the first part only', async () => {
    expect(await heights(second, false)).not.toEqual(await heights(first, false));
  });
});
