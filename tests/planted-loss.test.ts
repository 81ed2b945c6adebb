import { beforeEach, describe, expect, it, vi } from 'vitest';
import { lostInCleaning } from '@/core/clean/desk';
import type { PlainDirective } from '@/core/decisions/kinds';
import { sourceLedger } from '@/core/proof/source-ledger';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { deskOf, madeFile, madeTrack, type Stroke } from './helpers/made-file';

/** The step that loses a note, by the name of its function; none while it is empty. */
const lossy = vi.hoisted(() => ({ step: '' }));

/** Every function of a module, one of which may lose the last note of what it returns. */
const losing = vi.hoisted(() => (own: Record<string, unknown>): Record<string, unknown> => {
  const without = (value: unknown): unknown => {
    const strand = value as { notes?: unknown[]; strand?: unknown; strands?: unknown[] } | null;
    if (strand?.notes) return { ...strand, notes: strand.notes.slice(0, -1) };
    if (strand?.strand) return { ...strand, strand: without(strand.strand) };
    if (strand?.strands)
      return { ...strand, strands: [without(strand.strands[0]), ...strand.strands.slice(1)] };
    return value;
  };
  return Object.fromEntries(
    Object.entries(own).map(([name, value]) => [
      name,
      typeof value !== 'function'
        ? value
        : (...args: unknown[]) => {
            const made = (value as (...all: unknown[]) => unknown)(...args);
            return lossy.step === name ? without(made) : made;
          },
    ]),
  );
});

vi.mock('@/core/clean/notes', async (actual) => losing(await actual()));
vi.mock('@/core/clean/shaping', async (actual) => losing(await actual()));
vi.mock('@/core/clean/curves', async (actual) => losing(await actual()));
vi.mock('@/core/clean/edits', async (actual) => losing(await actual()));
vi.mock('@/core/clean/split', async (actual) => losing(await actual()));

const strokes = Array.from({ length: 16 }, (_, at): Stroke => [at * 240, at * 240 + 220, 60 + (at % 7)]);
const file = () =>
  readSmf(
    writeSmf(
      madeFile(
        madeTrack('Flute', 0, [...strokes, [0, 200, 12], [960, 965, 90]]),
        madeTrack('Oboe', 1, strokes),
      ),
    ),
  );

/** Decisions under which every step has something to do. */
const DECISIONS: PlainDirective[] = [
  { kind: 'key-switches', strand: '1/t1c1', keys: [12] },
  { kind: 'specks', strand: '1/t1c1', under: 10 },
  { kind: 'split', strand: '1/t2c2', by: 'pitch', key: 63 },
  { kind: 'drop', note: deskOf(file()).source.strands[0]!.notes[8]!.id, out: true },
];

/** The steps of cleaning, by their functions. */
const STEPS = [
  'setChannel',
  'takeOutKeySwitches',
  'closeHanging',
  'mendStacked',
  'dropSpecks',
  'translateKit',
  'transposeNotes',
  'thinControllers',
  'drawCurves',
  'setPrograms',
  'shapeVelocities',
  'editNotes',
  'splitStrand',
];

beforeEach(() => {
  lossy.step = '';
});

function proved() {
  const desk = deskOf(file(), ...DECISIONS);
  const result = transcribeNow(desk.performance, desk.brief);
  const open = sourceLedger(desk, result).entries.filter(({ because }) => because === null);
  return { lost: lostInCleaning(desk), open: open.map(({ differs }) => differs[0]), result, desk };
}

describe('a note that is lost on its way', () => {
  it('is none where all steps work: what they take out is told, one by one', () => {
    const { lost, open, desk, result } = proved();
    expect([lost, open, unaccounted(result.account)]).toEqual([0, [], 0]);
    expect([...desk.gone.values()].sort()).toEqual(['drop', 'key-switches', 'specks']);
  });

  for (const step of STEPS)
    it(`shows when ${step} loses it, and is not called meant`, () => {
      lossy.step = step;
      const { lost, open } = proved();
      expect(lost).toBeGreaterThan(0);
      expect(open.length).toBe(lost);
      expect(open.every((differs) => differs === 'missing')).toBe(true);
    });

  it('counts what lies past the point to which the time of the file can be believed', () => {
    const far = madeTrack('Flute', 0, [...strokes, [480 * 4 * 900, 480 * 4 * 900 + 400, 60]]);
    const desk = deskOf(readSmf(writeSmf(madeFile(far))));
    const { notes, agree, meant } = sourceLedger(desk, transcribeNow(desk.performance, desk.brief));
    expect([notes, agree, meant]).toEqual([17, 16, 0]);
  });
});
