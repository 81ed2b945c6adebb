import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { WaveFile } from 'wavefile';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { tidyFile } from '@/core/demo/tidy';
import { makeBank } from '@/core/sound/bank';
import {
  CONTROL,
  type Heard,
  inColumns,
  NOTE_OFF,
  NOTE_ON,
  type TimedEvent,
  type Timeline,
} from '@/core/sound/events';
import { flacFile, loadFlac } from '@/core/sound/flac';
import { type Level, readBank, renderTimeline } from '@/core/sound/render';
import { type Frames, type SoundFile, type SoundForm, wavFile } from '@/core/sound/sound-file';
import { fileNamesOf, type Stem, type StemsChoice, type StemsMade } from '@/core/sound/stem-choice';
import { renderStems } from '@/core/sound/stems';
import { renderedWords, stemsOf, tooMuchSound } from '@/core/workbench/stems';
import { Workbench } from '@/core/workbench/workbench';
import { dragoman } from './helpers/command-line';

const bank = readBank(makeBank());
const CHOICE: StemsChoice = { format: 'wav', rate: 44_100, bits: 16, leadInBars: 0, click: false };

/** Notes of three strands, seconds; `room` is what the last one sends to the reverberation, 0–127. */
function timelineWith(
  notes: readonly [strand: number, from: number, to: number, key: number, velocity?: number][],
  room = 0,
): Timeline {
  const sent = { seconds: 0, kind: CONTROL, channel: 2, first: 91, second: room };
  const events = notes.flatMap(([channel, from, to, key, velocity = 90]): TimedEvent[] => [
    { seconds: from, kind: NOTE_ON, channel, first: key, second: velocity },
    { seconds: to, kind: NOTE_OFF, channel, first: key, second: 0 },
  ]);
  return {
    ...inColumns([...events, ...(room > 0 ? [sent] : [])]),
    voicings: [0, 1, 2].map((channel) => ({
      strand: `1/t${channel + 1}c1` as const,
      channel,
      program: [73, 0, 48][channel] ?? 0,
      isDrum: false,
    })),
    beats: { seconds: Float64Array.of(0, 0.5, 1), down: Uint8Array.of(1, 0, 0) },
    opening: { beats: Float64Array.of(0, 0.5, 1), length: 1.5 },
    end: Math.max(0, ...notes.map(([, , to]) => to)),
    holds: null,
  };
}

const STEMS: Stem[] = [
  { name: 'Flute', strands: ['1/t1c1'] },
  { name: 'Piano / Reduction', strands: ['1/t2c1'] },
  { name: 'Strings', strands: ['1/t3c1'] },
];
const THREE = timelineWith(
  [
    [0, 0, 0.6, 72],
    [1, 0.1, 0.9, 48],
    [1, 0.1, 0.5, 60],
    [2, 0.3, 1, 67],
  ],
  100,
);

interface Rendered {
  made: StemsMade;
  files: Uint8Array[];
}

/** All files in memory. */
function rendered(
  timeline: Timeline,
  stems: readonly Stem[],
  choice: StemsChoice,
  levels: ReadonlyMap<string, Level> = new Map(),
  fileOf: (form: SoundForm) => SoundFile = wavFile,
): Rendered {
  let parts: Uint8Array[][] = [];
  let heads: Uint8Array[] = [];
  const steps = renderStems(bank, timeline, stems, choice, levels, fileOf, {
    begin: () => {
      parts = [];
      heads = [];
    },
    drop: (at) => {
      parts.splice(at, 1);
      heads.splice(at, 1);
    },
    add: (at, bytes) => {
      parts[at] ??= [];
      parts[at].push(bytes);
    },
    head: (at, bytes) => {
      heads[at] = bytes;
    },
  });
  for (;;) {
    const step = steps.next();
    if (step.done)
      return {
        made: step.value,
        files: parts.map((own, at) => new Uint8Array(Buffer.concat([heads[at]!, ...own]))),
      };
    expect(step.value).toBeGreaterThanOrEqual(0);
    expect(step.value).toBeLessThanOrEqual(1);
  }
}

/** Both ears of a WAV file, as another reader has them, in whole numbers. */
function earsOf(bytes: Uint8Array): [Float64Array, Float64Array] {
  const [left, right] = new WaveFile(bytes).getSamples(false, Float64Array) as unknown as [
    Float64Array,
    Float64Array,
  ];
  return [left, right];
}

describe('a WAV file', () => {
  it.each([16, 24] as const)('has %i bits as another reader has them (wavefile)', (bits) => {
    const most = 2 ** (bits - 1) - 1;
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.integer({ min: -most - 1, max: most }), fc.integer({ min: -most - 1, max: most })),
          {
            minLength: 1,
            maxLength: 40,
          },
        ),
        fc.nat(40),
        (pairs, cut) => {
          const file = wavFile({ format: 'wav', rate: 48_000, bits });
          const frames = (some: typeof pairs): Frames => [
            Int32Array.from(some, ([left]) => left),
            Int32Array.from(some, ([, right]) => right),
          ];
          const parts = [file.write(frames(pairs.slice(0, cut))), file.write(frames(pairs.slice(cut)))];
          const { rest, head } = file.end();
          expect(head.length).toBe(file.headBytes);
          const bytes = new Uint8Array(Buffer.concat([head, ...parts, rest]));
          const read = new WaveFile(bytes);
          expect(read.fmt).toMatchObject({ numChannels: 2, sampleRate: 48_000, bitsPerSample: bits });
          const [left, right] = earsOf(bytes);
          expect([...left]).toEqual(pairs.map(([one]) => one));
          expect([...right]).toEqual(pairs.map(([, other]) => other));
        },
      ),
    );
  });
});

describe('a FLAC file', () => {
  it.each([16, 24] as const)(
    'of %i bits gives back the very samples, by another decoder (RFC 9639)',
    async (bits) => {
      const flac = await loadFlac();
      const choice = { ...CHOICE, bits };
      const wav = rendered(THREE, STEMS, choice);
      const packed = rendered(THREE, STEMS, { ...choice, format: 'flac' }, new Map(), (form) =>
        flacFile(flac, form),
      );
      const decoder = new FLACDecoder();
      await decoder.ready;
      for (const [at, bytes] of packed.files.entries()) {
        const { channelData, samplesDecoded, sampleRate, bitDepth } = await decoder.decodeFile(bytes);
        const [left, right] = earsOf(wav.files[at]!);
        expect([sampleRate, bitDepth, samplesDecoded]).toEqual([44_100, bits, packed.made.frames]);
        const scale = 2 ** (bits - 1);
        for (const [ear, own] of [left, right].entries())
          expect(
            own.every((value, frame) => Math.round((channelData[ear]?.[frame] ?? 0) * scale) === value),
          ).toBe(true);
        // STREAMINFO tells how long it is (RFC 9639, section 8.2): 36 bits from bit 108 of the block on.
        const view = new DataView(bytes.buffer, bytes.byteOffset);
        expect((view.getUint8(21) & 15) * 2 ** 32 + view.getUint32(22)).toBe(packed.made.frames);
        await decoder.reset();
      }
      decoder.free();
    },
  );
});

describe('stems', () => {
  const whole = rendered(THREE, [{ name: 'All', strands: STEMS.flatMap(({ strands }) => strands) }], CHOICE);
  const apart = rendered(THREE, STEMS, CHOICE);

  it('have no file of a room that nothing sounds in', () => {
    const { made, files } = rendered(timelineWith([[0, 0, 0.2, 72]]), STEMS, { ...CHOICE, click: true });
    expect(made.names).toEqual(['Flute', 'Piano / Reduction', 'Strings', 'Click']);
    expect(files).toHaveLength(4);
  });

  it('have the room in a file of its own, and numbered names', () => {
    expect(fileNamesOf(apart.made, CHOICE)).toEqual([
      '01 Flute.wav',
      '02 Piano - Reduction.wav',
      '03 Strings.wav',
      '04 Reverb.wav',
    ]);
    expect(fileNamesOf(whole.made, CHOICE)).toEqual(['All.wav']);
  });

  it('are as long as each other, and added they are the whole to the bit', () => {
    const ears = apart.files.map(earsOf);
    const [left, right] = earsOf(whole.files[0]!);
    expect(new Set(ears.map(([own]) => own.length))).toEqual(new Set([left.length]));
    for (const [ear, own] of [left, right].entries()) {
      const sums = own.map((_, frame) => ears.reduce((sum, pair) => sum + pair[ear]![frame]!, 0));
      const worst = sums.reduce((most, value, frame) => Math.max(most, Math.abs(value - own[frame]!)), 0);
      expect(worst).toBeLessThanOrEqual(1);
    }
    expect(left.some((value) => Math.abs(value) > 1000)).toBe(true);
  });

  it('are what a strand sounds by itself', () => {
    const alone = renderTimeline(bank, timelineWith([[0, 0, 0.6, 72]]), CHOICE.rate);
    let step = alone.next();
    while (!step.done) step = alone.next();
    const [left] = earsOf(apart.files[0]!);
    // The same strand with its room is louder, and begins and ends at the same moments.
    const [withRoom] = step.value;
    const first = (samples: ArrayLike<number>, least: number) =>
      Array.from({ length: samples.length }, (_, at) => at).find((at) => Math.abs(samples[at]!) > least);
    expect(first(left, 30)).toBeDefined();
    expect(Math.abs(first(left, 30)! - first(withRoom, 30 / 32_768)!)).toBeLessThan(200);
  });

  it('ring to silence, and no longer', () => {
    for (const bytes of apart.files) {
      const [left] = earsOf(bytes);
      const last = left.subarray(left.length - 4410);
      expect(Math.max(...last.map(Math.abs))).toBeLessThanOrEqual(1);
    }
    expect(apart.made.frames / CHOICE.rate).toBeGreaterThan(1);
    expect(apart.made.frames / CHOICE.rate).toBeLessThan(10);
  });

  it('have the bars before them and a click, and nothing else sounds there', () => {
    const { made, files } = rendered(THREE, STEMS, { ...CHOICE, leadInBars: 2, click: true });
    expect(made.names).toEqual(['Flute', 'Piano / Reduction', 'Strings', 'Reverb', 'Click']);
    const ears = files.map(earsOf);
    const start = 3 * CHOICE.rate;
    for (const [left] of ears.slice(0, 4))
      expect(left.subarray(0, start - 1).every((value) => value === 0)).toBe(true);
    // A stroke at each beat of two bars of three, and of the piece.
    const click = ears[4]![0];
    const strokes = Array.from({ length: 9 }, (_, beat) => {
      const at = Math.round(beat * 0.5 * CHOICE.rate);
      return Math.max(...click.subarray(at, at + 2000).map(Math.abs));
    });
    expect(Math.min(...strokes)).toBeGreaterThan(300);
    expect(strokes[0]).toBeGreaterThan(strokes[1]!);
    expect(strokes[3]).toBeGreaterThan(strokes[4]!);
  });

  it('are turned down together where they would be too loud, which is told', () => {
    const loud = timelineWith(
      Array.from(
        { length: 48 },
        (_, at) => [at % 3, 0, 0.3, 36 + at, 127] as [number, number, number, number, number],
      ),
    );
    const levels = new Map(loud.voicings.map(({ strand }) => [strand, { gain: 2, pan: 0 }]));
    const { made, files } = rendered(loud, STEMS, CHOICE, levels);
    expect(made.turnedDown).toBeGreaterThan(0);
    expect(made.peak).toBeLessThan(0);
    expect(files.length).toBe(3);
    const ears = files.map(earsOf);
    const peak = ears[0]![0].reduce((most, _, frame) => {
      const sum = ears.reduce((all, [left]) => all + left[frame]!, 0);
      return Math.max(most, Math.abs(sum));
    }, 0);
    expect(peak).toBeLessThanOrEqual(32_767);
  });

  it('are refused in a sentence where sizes of 32 bits do not hold them', () => {
    const hours = (count: number) => timelineWith([[0, 0, count * 3600, 60]]);
    const [one] = STEMS;
    // Two hours of 16 bits are 1.3 GB: one file, but no four in a zip.
    expect(tooMuchSound(hours(2), [one!], CHOICE, false)).toBeNull();
    expect(tooMuchSound(hours(2), STEMS, CHOICE, false)).toBeNull();
    expect(tooMuchSound(hours(2), STEMS, CHOICE, true)).toMatch(
      /^4 files would be 5\.1 GB, and a zip holds 4/,
    );
    expect(tooMuchSound(hours(8), [one!], CHOICE, false)).toMatch(/^Each file would be 5\.1 GB, and WAV/);
    expect(tooMuchSound(hours(8), [one!], { ...CHOICE, format: 'flac' }, false)).toBeNull();
  });

  it('silence is as long as everything else, and said to be silent', () => {
    const { made } = rendered(timelineWith([]), STEMS, CHOICE);
    expect(made.peak).toBe(Number.NEGATIVE_INFINITY);
    expect(renderedWords(made, CHOICE.rate)).toMatch(/long; silent\.$/);
    expect(made.frames).toBeGreaterThan(0);
  });
});

describe('the stems of the demo', () => {
  const workbench = new Workbench([{ id: '1', version: 1, name: 'tidy.mid', bytes: tidyFile() }]);
  const { desk } = workbench.layOut(0, {
    ...EMPTY_BRIEF,
    directives: [{ kind: 'leave-out', strand: '1/t2c1', out: true }],
  });
  const namesOf = (heard: Heard, by: 'part' | 'family' | 'all') =>
    stemsOf(desk, heard, by).map(({ name }) => name);

  it('are the parts of the score; of the source what is left out, too', () => {
    const parts = namesOf('cleaned', 'part');
    expect(parts).toHaveLength(desk.source.strands.length - 1);
    expect(namesOf('source', 'part')).toHaveLength(desk.source.strands.length);
  });

  it('families are told once each and have every strand', () => {
    const families = stemsOf(desk, 'cleaned', 'family');
    expect(new Set(families.map(({ name }) => name)).size).toBe(families.length);
    const [all] = stemsOf(desk, 'cleaned', 'all');
    expect(families.flatMap(({ strands }) => strands).toSorted()).toEqual([...all!.strands].toSorted());
  });
});

describe('stems on the command line', () => {
  const folder = mkdtempSync(join(tmpdir(), 'dragoman-stems-'));
  const at = (name: string) => join(folder, name);
  afterAll(() => rmSync(folder, { recursive: true }));

  it('come into a folder, each whole, and what cannot be done is said in a line', async () => {
    writeFileSync(at('tidy.mid'), tidyFile());
    const done = await dragoman(
      'stems',
      at('tidy.mid'),
      '--by',
      'family',
      '--rate',
      '44100',
      '-o',
      at('out'),
    );
    expect([done.status, done.stderr]).toEqual([0, '']);
    const files = readdirSync(at('out'));
    expect(files.every((name) => /^\d\d .+\.wav$/.test(name))).toBe(true);
    expect(done.stdout).toMatch(new RegExp(`^${files.length} files from one start, .+; loudest place at`));
    expect(new Set(files.map((name) => readFileSync(at(`out/${name}`)).length)).size).toBe(1);
    for (const [words, says] of [
      [['--by', 'desk'], '--by takes part, family, all.'],
      [['--bits', '8'], '--bits takes 16, 24.'],
      [['--bank', at('tidy.mid')], 'This is not a sound bank'],
    ] as const) {
      const refused = await dragoman('stems', at('tidy.mid'), ...words, '-o', at('none'));
      expect(refused.status).toBe(2);
      expect(refused.stderr).toContain(says);
    }
  });
});
