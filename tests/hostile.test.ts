import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seeded } from '@/core/basics/random';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { DEFAULT_HAND_OVER } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { barTable } from '@/core/deliver/bar-table';
import { untidyFile } from '@/core/demo/untidy';
import { timelineOf } from '@/core/sound/timeline';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { NotAnSmfError, readSmf } from '@/core/sources/smf/read';
import { takeStock } from '@/core/stock/inventory';
import { transcribeNow } from '@/core/transcribe';
import { layOutFile } from './helpers/desk';

/** Everything that the product does with a file, or the one sentence that refuses it. */
function through(bytes: Uint8Array): string {
  try {
    const smf = readSmf(bytes);
    const desk = layOutFile(smf, EMPTY_BRIEF);
    takeStock(smf, desk.performance, desk.decisions);
    barTable(desk.performance, '25');
    timelineOf(desk, 'cleaned', null);
    for (const form of ['plain', 'full', 'clock'] as const) {
      const out = deliverMidi(desk, {
        ...DEFAULT_HAND_OVER,
        form,
        programs: 'source',
        channels: 'source',
        click: true,
      });
      readSmf(out);
    }
    writeMusicXml(transcribeNow(desk.performance, EMPTY_BRIEF).score);
    return 'done';
  } catch (error) {
    if (error instanceof NotAnSmfError) return error.message;
    throw error;
  }
}

const uint16 = (value: number) => [(value >> 8) & 255, value & 255];
const uint32 = (value: number) => [...uint16(value >>> 16), ...uint16(value)];
const chunk = (type: string, data: ArrayLike<number>) =>
  Uint8Array.from([...Buffer.from(type), ...uint32(data.length), ...Array.from(data)]);
const head = (format: number, tracks: number, division: number) =>
  chunk('MThd', [...uint16(format), ...uint16(tracks), ...uint16(division)]);
const join2 = (...parts: Uint8Array[]) => new Uint8Array(Buffer.concat(parts));
const LONGEST = [0xff, 0xff, 0xff, 0x7f];
const NOTE = [0x90, 60, 80];
const END = [0, 0xff, 0x2f, 0];

describe('hostile files end in bounded time, with a result or a sentence', () => {
  it.each<[string, () => Uint8Array]>([
    ['nothing', () => new Uint8Array(0)],
    ['a header alone', () => head(1, 1, 480)],
    [
      '65,535 tracks announced, one there',
      () => join2(head(1, 65_535, 480), chunk('MTrk', [0, ...NOTE, 96, 0x80, 60, 0, ...END])),
    ],
    [
      '20,000 empty tracks',
      () => join2(head(1, 20_000, 480), ...Array.from({ length: 20_000 }, () => chunk('MTrk', END))),
    ],
    [
      'a billion ticks at one tick a quarter note',
      () =>
        join2(
          head(1, 1, 1),
          chunk('MTrk', [
            ...Array.from({ length: 4 }, () => [...LONGEST, ...NOTE, ...LONGEST, 0x80, 60, 0]).flat(),
            ...END,
          ]),
        ),
    ],
    [
      'a billion ticks at 480 with a meter of 1/64',
      () =>
        join2(
          head(1, 1, 480),
          chunk('MTrk', [
            0,
            0xff,
            0x58,
            4,
            1,
            6,
            24,
            8,
            ...Array.from({ length: 4 }, () => [...LONGEST, ...NOTE, ...LONGEST, 0x80, 60, 0]).flat(),
            ...END,
          ]),
        ),
    ],
    [
      'a time longer than four bytes',
      () => join2(head(1, 1, 480), chunk('MTrk', [0xff, 0xff, 0xff, 0xff, 0xff, 0x7f, ...NOTE, ...END])),
    ],
    [
      'one note a tick for 60,000 ticks',
      () =>
        join2(
          head(1, 1, 480),
          chunk('MTrk', [
            ...Array.from({ length: 60_000 }, (_, at) => [1, 0x90, at % 128, 64]).flat(),
            ...END,
          ]),
        ),
    ],
    [
      'ten thousand meters and tempos in a row',
      () =>
        join2(
          head(1, 1, 480),
          chunk('MTrk', [
            ...Array.from({ length: 10_000 }, (_, at) => [
              1,
              0xff,
              0x58,
              4,
              1 + (at % 31),
              at % 7,
              24,
              8,
              0,
              0xff,
              0x51,
              3,
              at % 256,
              1,
              1,
            ]).flat(),
            0,
            ...NOTE,
            96,
            0x80,
            60,
            0,
            ...END,
          ]),
        ),
    ],
    ['a division of zero', () => join2(head(1, 1, 0), chunk('MTrk', [0, ...NOTE, 96, 0x80, 60, 0, ...END]))],
    [
      'time code of one tick a frame',
      () => join2(head(0, 1, 0xe701), chunk('MTrk', [0, ...NOTE, 96, 0x80, 60, 0, ...END])),
    ],
    [
      'a tempo of one microsecond',
      () =>
        join2(
          head(0, 1, 480),
          chunk('MTrk', [0, 0xff, 0x51, 3, 0, 0, 1, 0, ...NOTE, 96, 0x80, 60, 0, ...END]),
        ),
    ],
  ])('%s', (_, make) => {
    const started = process.memoryUsage().rss;
    expect(through(make())).toMatch(/^done$|\.$/);
    expect(process.memoryUsage().rss - started).toBeLessThan(2 ** 31);
  });
});

/** MIDI files of Debian's package openttd-openmsx, where installed. */
const FOLDER = '/usr/share/games/openttd/baseset/openmsx';
const real = existsSync(FOLDER) ? readdirSync(FOLDER).filter((name) => name.endsWith('.mid')) : [];
/** More with FUZZ=1500 npx vitest run tests/hostile.test.ts; the last such run is in docs/architecture.md. */
const MUTATIONS = Number(process.env.FUZZ ?? 60);

describe('damage', () => {
  it(`${MUTATIONS} mutations of real and demo files are mended or refused`, () => {
    const random = seeded(11);
    const sources = [
      untidyFile(),
      ...real.slice(0, 4).map((name) => new Uint8Array(readFileSync(join(FOLDER, name)))),
    ];
    for (let round = 0; round < MUTATIONS; round++) {
      const source = sources[round % sources.length]!;
      // A part of the file is enough, and quicker to go through.
      const bytes = source.slice(0, Math.min(source.length, 2000 + Math.floor(random() * 4000)));
      for (let hit = 0; hit < 1 + Math.floor(random() * 12); hit++) {
        const at = Math.floor(random() * bytes.length);
        const kind = random();
        if (kind < 0.5) bytes[at] = Math.floor(random() * 256);
        else if (kind < 0.75) bytes.copyWithin(at, Math.floor(random() * bytes.length), at + 16);
        else bytes.fill(random() < 0.5 ? 0xff : 0, at, at + 4);
      }
      expect(through(bytes), `round ${round}`).toMatch(/^done$|\.$/);
    }
  }, 3_600_000);

  it('random bytes behind a header never do more than that', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.nat(2), (body, format) => {
        expect(through(join2(head(format, 1, 96), chunk('MTrk', body)))).toMatch(/^done$|\.$/);
      }),
      { numRuns: 100 },
    );
  }, 120_000);
});
