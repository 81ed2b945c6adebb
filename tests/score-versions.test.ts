import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { lanternFerry } from '@/core/demo/lantern-ferry';
import { sliceScore } from '@/core/engrave/slice';
import type { EventId } from '@/core/model/ids';
import { pitchKey } from '@/core/model/pitch';
import { mapNotes, type Part, type Score } from '@/core/model/score';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { newsOf } from '@/core/workbench/versions';
import { Workbench, type Written } from '@/core/workbench/workbench';
import './helpers/properties';

const demo = lanternFerry();
const all = new Set(demo.parts.map(({ id }) => id));
const bytesOf = (score: Score) => new TextEncoder().encode(writeMusicXml(score));

/** A job of several versions of a score, the last one in force. */
function job(...versions: Score[]): {
  bench: Workbench;
  write: (...directives: PlainDirective[]) => Written;
} {
  const bench = new Workbench(
    versions.map((score, index) => ({
      id: '1' as const,
      version: index + 1,
      name: `v${index + 1}.musicxml`,
      bytes: bytesOf(score),
    })),
  );
  let revision = 0;
  return {
    bench,
    write: (...directives) => {
      bench.layOut(++revision, withDirectives(EMPTY_BRIEF, directives));
      return finished(bench.write(revision));
    },
  };
}

/** The events of all notes that begin, by part, printed bar, onset and sounding key: what a copyist would call the same note. */
function namesBy({ transcription }: Written, shift = 0): Map<string, EventId> {
  const { bars, parts } = transcription.score;
  const names = new Map<string, EventId>();
  for (const part of parts)
    part.bars.forEach(({ voices }, bar) => {
      for (const { items, voice, staff } of voices)
        for (const item of items)
          if (item.kind === 'chord')
            for (const note of item.notes)
              if (!note.tieStop && note.sources[0])
                names.set(
                  `${part.name} ${bars[bar]!.number + shift} ${staff} ${voice} ${item.onset} ${note.key}`,
                  note.sources[0],
                );
    });
  return names;
}

function kept(before: Map<string, EventId>, after: Map<string, EventId>) {
  const both = [...after].filter(([place]) => before.has(place));
  return {
    both: both.length,
    same: both.filter(([place, id]) => before.get(place) === id).length,
    wrong: [...after].filter(([place, id]) => !before.has(place) && [...before.values()].includes(id)).length,
  };
}

const withParts = (parts: Part[]): Score => ({ ...demo, parts, groups: [] });

describe('a new version of a score', () => {
  const first = job(demo).write();
  const names = namesBy(first);

  it('that is the same has the same names throughout', () => {
    const again = job(demo, demo);
    expect(namesBy(again.write())).toEqual(names);
    expect(newsOf(again.bench.at(1))?.strands.every(({ state }) => state === 'same')).toBe(true);
  });

  it('with its parts in another order, one gone and one renamed is known by what they play', () => {
    const others = demo.parts
      .filter((part) => part.name !== 'Marimba')
      .map((part) => (part.name === 'Horn 2' ? { ...part, name: 'Second' } : part))
      .reverse();
    const { bench, write } = job(demo, withParts(others));
    const written = write();
    const { both, same } = kept(names, namesBy(written));
    expect(both).toBeGreaterThan(1500);
    expect(same).toBe(both);
    const horn = first.transcription.score.parts.find(({ name }) => name === 'Horn 2')!;
    expect(written.transcription.score.parts.find(({ name }) => name === 'Second')!.id).toBe(horn.id);
    const states = new Map(newsOf(bench.at(1))!.strands.map(({ name, state }) => [name, state]));
    expect(states.get('Marimba')).toBe('gone');
    expect(states.get('Flute')).toBe('same');
    // In the order of the document, whatever tracks they are on.
    expect(written.transcription.score.parts.map(({ name }) => name)).toEqual(others.map(({ name }) => name));
  });

  it('with bars cut keeps every note that is left, and moves what was decided about passages along', () => {
    const cut = sliceScore(demo, all, 9, demo.bars.length);
    const { write } = job(demo, cut);
    const { both, same, wrong } = kept(names, namesBy(write()));
    expect(both).toBeGreaterThan(1500);
    expect(same / both).toBeGreaterThan(0.995);
    expect(wrong).toBe(0);
  });

  it('keeps decisions about notes that survive, and lists those about notes that are gone', () => {
    const flute = demo.parts.find(({ name }) => name === 'Flute')!;
    const changed = withParts(
      demo.parts.map((part) =>
        part === flute
          ? {
              ...part,
              bars: part.bars.map((bar, index) =>
                index === 3
                  ? { ...bar, voices: bar.voices.map((line) => ({ ...line, items: line.items.slice(0, 0) })) }
                  : bar,
              ),
            }
          : part,
      ),
    );
    const event = (place: RegExp) => [...names].find(([name]) => place.test(name))![1];
    const [stays, goes] = [event(/^Flute 2 /), event(/^Flute 3 /)];
    const higher = (note: EventId): PlainDirective => ({ kind: 'pitch', note, steps: 7, semitones: 12 });
    const { bench, write } = job(demo, changed);
    const keyOf = (written: Written, event: EventId) =>
      [...namesBy(written)]
        .find(([, id]) => id === event)?.[0]
        .split(' ')
        .at(-1);
    expect(Number(keyOf(write(higher(stays)), stays))).toBe(Number(keyOf(first, stays)) + 12);
    write(higher(goes));
    const lost = newsOf(bench.at(2))!.lost;
    expect(lost).toHaveLength(1);
    expect(lost[0]!.about).toContain('Flute');
  });

  it('never calls two notes alike, through several versions in turn', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1000 }), (seed) => {
        const random = seeded(seed);
        const damaged = (score: Score): Score => ({
          ...score,
          groups: [],
          parts: score.parts
            .filter(() => random() > 0.1)
            .map((part) => ({
              ...part,
              bars: mapNotes(part.bars, (note) =>
                random() < 0.03 && !note.tieStart && !note.tieStop
                  ? { ...note, key: note.key + 12, pitch: { ...note.pitch, octave: note.pitch.octave + 1 } }
                  : note,
              ),
            }))
            .sort(() => random() - 0.5),
        });
        const few = withParts(demo.parts.slice(0, 5));
        const second = damaged(few);
        const third = damaged(second);
        const written = job(few, second, third).write();
        const ids = written.transcription.score.parts.flatMap((part) =>
          part.bars.flatMap(({ voices }) =>
            voices.flatMap(({ items }) =>
              items.flatMap((item) => (item.kind === 'chord' ? item.notes.map(({ id }) => id) : [])),
            ),
          ),
        );
        expect(new Set(ids).size).toBe(ids.length);
        expect(new Set(written.transcription.score.parts.map(({ id }) => id)).size).toBe(third.parts.length);
        for (const part of written.transcription.score.parts)
          for (const { voices } of part.bars)
            for (const { items } of voices)
              for (const item of items)
                if (item.kind === 'chord')
                  for (const { pitch, key } of item.notes)
                    expect(Math.abs(pitchKey(pitch) - key) % 1).toBe(0);
      }),
      { numRuns: 8 },
    );
  });
});
