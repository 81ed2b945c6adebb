import { bytesOf, type Chance, damaged, joined } from './chance';

const uint16 = (value: number) => [(value >> 8) & 255, value & 255];
const uint32 = (value: number) => [...uint16(value >>> 16), ...uint16(value)];

function length(value: number): number[] {
  const out = [value & 127];
  for (let rest = value >>> 7; rest > 0; rest >>>= 7) out.unshift((rest & 127) | 128);
  return out;
}

const chunk = (type: string, data: readonly number[], size = data.length) =>
  Uint8Array.from([...bytesOf(type), ...uint32(size), ...data]);

const NAMES = [
  'Flute',
  '1st Vlns sus',
  'Trombone 3',
  'Drums',
  'Piano',
  'Clock',
  'ob/ca',
  '',
  'Klarinette in B',
  'pizz.',
  '\u0000\u0001',
  'x'.repeat(700),
  '2.',
];

/** A track of one line, or of chords, in a style that real files have. */
function track(chance: Chance, ticks: number, channel: number): number[] {
  const out: number[] = [0, 0xff, 3];
  const name = [...bytesOf(chance.pick(NAMES))];
  out.push(...length(name.length), ...name);
  if (chance.is(0.7)) out.push(0, 0xc0 | channel, chance.below(128));
  const count = chance.pick([0, 1, 2, 3, 6, 6, 12, 12, 24, 60]);
  const step = Math.max(1, Math.round(ticks / chance.pick([1, 2, 3, 4, 8, 24])));
  let key = chance.between(30, 90);
  for (let at = 0; at < count; at++) {
    key = Math.max(0, Math.min(127, key + chance.between(-4, 4)));
    const size = chance.is(0.15) ? chance.between(2, 4) : 1;
    const loose = chance.is(0.3) ? chance.below(Math.max(1, step >> 2)) : 0;
    for (let each = 0; each < size; each++)
      out.push(
        ...length(each === 0 ? loose : 0),
        0x90 | channel,
        (key + 4 * each) & 127,
        chance.between(1, 127),
      );
    const held = Math.max(0, chance.pick([step, step - 1, step >> 1, 1, 0, step * 4]) - loose);
    for (let each = 0; each < size; each++)
      if (!chance.is(0.02))
        out.push(...length(each === 0 ? held : 0), 0x80 | channel, (key + 4 * each) & 127, 64);
    if (chance.is(0.08)) out.push(...other(chance, channel, ticks));
  }
  if (chance.is(0.95))
    out.push(...length(chance.is(0.02) ? ticks * 400 : chance.pick([0, ticks])), 0xff, 0x2f, 0);
  return out;
}

/** Any other event there is, rightly made or not. */
function other(chance: Chance, channel: number, ticks: number): number[] {
  const delta = length(chance.is(0.01) ? 0x0fffffff : chance.pick([0, 1, ticks, ticks * 4]));
  const byte = () => chance.below(128);
  const meta = (type: number, data: number[], size = data.length) => [
    ...delta,
    0xff,
    type,
    ...length(size),
    ...data,
  ];
  switch (chance.below(13)) {
    case 0:
      return [
        ...delta,
        0xb0 | channel,
        chance.pick([0, 1, 7, 10, 11, 32, 64, 91, 101, 100, 6, 123, byte()]),
        byte(),
      ];
    case 1:
      return [...delta, 0xe0 | channel, byte(), byte()];
    case 2:
      return [...delta, 0xc0 | channel, byte()];
    case 3:
      return [...delta, 0xd0 | channel, byte()];
    case 4:
      return meta(0x51, uint32(chance.pick([500_000, 1, 0, 0xffffff, 260_000])).slice(1));
    case 5:
      return meta(0x58, [
        chance.is(0.01) ? 255 : chance.pick([4, 3, 6, 7, 5, 2, 0]),
        chance.is(0.05) ? chance.pick([0, 7, 30]) : chance.pick([2, 3, 2, 1]),
        24,
        8,
      ]);
    case 6:
      return meta(0x59, [chance.below(256), chance.below(3)]);
    case 7: {
      const text = [...bytesOf(chance.pick(['Verse', 'Am7/G', 'D.C.', 'x'.repeat(300), '<b>&']))];
      return meta(chance.pick([1, 2, 3, 4, 5, 6, 7]), text);
    }
    case 8:
      return [...delta, 0xf0, ...length(4), 0x7e, 0x7f, 9, 0xf7];
    case 9:
      return meta(chance.pick([0x20, 0x21, 0x54, 0x7f, 0x33]), chance.times(chance.below(9), byte));
    case 10:
      return meta(chance.pick([0x51, 0x58, 0x59]), chance.times(chance.below(7), byte));
    case 11:
      return [...delta, 0xa0 | channel, byte(), byte()];
    default:
      return [...delta, chance.pick([0xf1, 0xf4, 0xf8, 0xff, byte()]), byte()];
  }
}

/** A Standard MIDI File, from well made to hardly one. */
export function makeSmf(chance: Chance): Uint8Array {
  const ticks = chance.pick([480, 96, 120, 960, 1, 24, 0x7fff]);
  const division = chance.is(0.04) ? chance.pick([0xe728, 0xe250, 0, 0xe701]) : ticks;
  const count = chance.pick([1, 1, 1, 2, 2, 3, 5]);
  const conductor = [
    ...(chance.is(0.8) ? [0, 0xff, 0x51, 3, 7, 0xa1, 0x20] : []),
    ...(chance.is(0.8) ? [0, 0xff, 0x58, 4, chance.pick([4, 3, 6, 5]), chance.pick([2, 2, 3]), 24, 8] : []),
    ...(chance.is(0.3) ? other(chance, 0, ticks) : []),
    ...(chance.is(0.3) ? other(chance, 0, ticks) : []),
    ...[0, 0xff, 0x2f, 0],
  ];
  const tracks = chance.times(count, (at) => track(chance, ticks, at === 2 ? 9 : at % 16));
  const format = chance.is(0.85) ? 1 : chance.pick([0, 2, 3]);
  const file = joined(
    chunk('MThd', [
      ...uint16(format),
      ...uint16(chance.is(0.95) ? count + 1 : chance.below(70_000)),
      ...uint16(division),
    ]),
    chunk('MTrk', conductor),
    ...tracks.map((data) =>
      chunk('MTrk', data, chance.is(0.97) ? data.length : chance.below(2 * data.length + 9)),
    ),
    ...(chance.is(0.05) ? [chunk('XFIH', [1, 2, 3])] : []),
  );
  return chance.is(0.3) ? damaged(file, chance) : file;
}
