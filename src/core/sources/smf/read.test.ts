import { Midi } from '@tonejs/midi';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { readPerformance } from '../../sources/smf/performance';
import type { Smf, SmfEvent } from './events';
import { MAX_SMF_BYTES, NotAnSmfError, readSmf } from './read';
import { writeSmf } from './write';

const ascii = (text: string) => [...text].map((char) => char.charCodeAt(0));
const uint32 = (value: number) => [value >>> 24, (value >> 16) & 255, (value >> 8) & 255, value & 255];
const header = (format: number, tracks: number, division: [number, number]) => [
  ...ascii('MThd'),
  ...uint32(6),
  0,
  format,
  0,
  tracks,
  ...division,
];
const track = (body: number[], length = body.length) => [...ascii('MTrk'), ...uint32(length), ...body];
const file = (...chunks: number[][]) => Uint8Array.from(chunks.flat());
const PPQ96: [number, number] = [0, 96];
const END = [0, 0xff, 0x2f, 0];

const byte = fc.integer({ min: 0, max: 127 });
const channel = fc.integer({ min: 0, max: 15 });
const bytes = fc.uint8Array({ maxLength: 12 });

/** Every kind of event, with a delta in place of its tick. */
const anyEvent: fc.Arbitrary<SmfEvent> = fc.oneof(
  fc.record({
    kind: fc.constant('noteOn' as const),
    tick: fc.nat(400),
    channel,
    key: byte,
    velocity: fc.integer({ min: 1, max: 127 }),
  }),
  fc
    .record({
      kind: fc.constant('noteOff' as const),
      tick: fc.nat(400),
      channel,
      key: byte,
      velocity: byte,
      asNoteOn: fc.boolean(),
    })
    .map((event) => (event.asNoteOn ? { ...event, velocity: 0 } : event)),
  fc.record({
    kind: fc.constant('keyPressure' as const),
    tick: fc.nat(400),
    channel,
    key: byte,
    pressure: byte,
  }),
  fc.record({
    kind: fc.constant('control' as const),
    tick: fc.nat(400),
    channel,
    controller: byte,
    value: byte,
  }),
  fc.record({ kind: fc.constant('program' as const), tick: fc.nat(400), channel, program: byte }),
  fc.record({ kind: fc.constant('channelPressure' as const), tick: fc.nat(400), channel, pressure: byte }),
  fc.record({ kind: fc.constant('pitchBend' as const), tick: fc.nat(400), channel, value: fc.nat(16383) }),
  fc.record({
    kind: fc.constant('tempo' as const),
    tick: fc.nat(400),
    microsPerQuarter: fc.integer({ min: 1, max: 0xffffff }),
  }),
  fc.record({
    kind: fc.constant('timeSignature' as const),
    tick: fc.nat(400),
    numerator: fc.integer({ min: 1, max: 32 }),
    denominator: fc.constantFrom(1, 2, 4, 8, 16, 32),
    clocks: fc.constantFrom(12, 24, 36),
    thirtySeconds: fc.constant(8),
  }),
  fc.record({
    kind: fc.constant('keySignature' as const),
    tick: fc.nat(400),
    fifths: fc.integer({ min: -7, max: 7 }),
    minor: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('sysex' as const), tick: fc.nat(400), bytes }),
  fc.record({ kind: fc.constant('escape' as const), tick: fc.nat(400), bytes }),
  fc.record({ kind: fc.constant('trackName' as const), tick: fc.nat(400), type: fc.constant(3), bytes }),
  fc.record({ kind: fc.constant('lyric' as const), tick: fc.nat(400), type: fc.constant(5), bytes }),
  fc.record({ kind: fc.constant('marker' as const), tick: fc.nat(400), type: fc.constant(6), bytes }),
  fc.record({ kind: fc.constant('channelPrefix' as const), tick: fc.nat(400), channel }),
  fc.record({ kind: fc.constant('port' as const), tick: fc.nat(400), port: byte }),
  fc.record({ kind: fc.constant('sequenceNumber' as const), tick: fc.nat(400), number: fc.nat(65535) }),
  fc.record({
    kind: fc.constant('smpteOffset' as const),
    tick: fc.nat(400),
    bytes: fc.uint8Array({ minLength: 5, maxLength: 5 }),
  }),
  fc.record({ kind: fc.constant('sequencerSpecific' as const), tick: fc.nat(400), bytes }),
  fc.record({ kind: fc.constant('otherMeta' as const), tick: fc.nat(400), type: fc.constant(0x60), bytes }),
);

const anySmf: fc.Arbitrary<Smf> = fc
  .record({
    format: fc.constantFrom(0 as const, 1 as const, 2 as const),
    division: fc.oneof(
      fc.record({ kind: fc.constant('quarter' as const), ticks: fc.integer({ min: 1, max: 0x7fff }) }),
      fc.record({
        kind: fc.constant('smpte' as const),
        framesPerSecond: fc.constantFrom(24 as const, 25 as const, 29 as const, 30 as const),
        ticksPerFrame: fc.integer({ min: 1, max: 255 }),
      }),
    ),
    tracks: fc.array(fc.array(anyEvent, { maxLength: 40 }), { minLength: 1, maxLength: 5 }),
  })
  .map(({ format, division, tracks }) => ({
    format,
    division,
    otherChunks: [],
    mends: [],
    tracks: (format === 0 ? tracks.slice(0, 1) : tracks).map((events) => {
      let tick = 0;
      const placed = events.map((event) => {
        tick += event.tick;
        return { ...event, tick };
      });
      return { events: [...placed, { kind: 'endOfTrack' as const, tick }] };
    }),
  }));

describe('reading what was written', () => {
  it('returns every event of generated files', () => {
    fc.assert(
      fc.property(anySmf, (smf) => {
        expect(readSmf(writeSmf(smf))).toEqual(smf);
      }),
      { numRuns: 500 },
    );
  });

  it('keeps chunks of other kinds in their places', () => {
    const other = [...ascii('XFIH'), ...uint32(3), 1, 2, 3];
    const smf = readSmf(file(header(1, 2, PPQ96), other, track(END), track(END), other));
    expect(smf.otherChunks.map(({ type, before }) => [type, before])).toEqual([
      ['XFIH', 0],
      ['XFIH', 2],
    ]);
    expect(smf.mends).toEqual([]);
    expect(writeSmf(smf)).toEqual(file(header(1, 2, PPQ96), other, track(END), track(END), other));
  });
});

describe('beside reference readers', () => {
  it('finds the events that midi-file finds (all kinds, both divisions)', () => {
    fc.assert(
      fc.property(anySmf, (smf) => {
        const data = writeSmf(smf);
        const reference = parseMidi(data);
        const ours = readSmf(data);
        expect(ours.tracks.length).toBe(reference.tracks.length);
        reference.tracks.forEach((events, index) => {
          let tick = 0;
          const expected = events.map((event) => {
            tick += event.deltaTime;
            return [tick, event.type];
          });
          const found = ours.tracks[index]!.events.map((event) => [event.tick, midiFileName(event)]);
          expect(found).toEqual(expected);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('finds the notes that @tonejs/midi finds', () => {
    const notes = fc.array(
      fc.record({
        at: fc.nat(2000),
        length: fc.integer({ min: 1, max: 900 }),
        key: byte,
        velocity: fc.integer({ min: 1, max: 127 }),
        channel,
      }),
      { minLength: 1, maxLength: 40 },
    );
    fc.assert(
      fc.property(notes, (made) => {
        const events: SmfEvent[] = made.flatMap((note): SmfEvent[] => [
          { kind: 'noteOn', tick: note.at, channel: note.channel, key: note.key, velocity: note.velocity },
          {
            kind: 'noteOff',
            tick: note.at + note.length,
            channel: note.channel,
            key: note.key,
            velocity: 0,
            asNoteOn: false,
          },
        ]);
        events.sort((a, b) => a.tick - b.tick || Number(a.kind === 'noteOn') - Number(b.kind === 'noteOn'));
        const data = writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks: [{ events }] });
        const reference = new Midi(data).tracks.flatMap((each) =>
          each.notes.map((note) => `${each.channel} ${note.ticks} ${note.durationTicks} ${note.midi}`),
        );
        const ours = readPerformance(readSmf(data)).strands.flatMap((strand) =>
          strand.notes.map((note) => `${strand.channel} ${note.on} ${note.off - note.on} ${note.key}`),
        );
        // The reference keeps a file's channels apart only as tracks of its own.
        const plain = (list: string[]) => list.map((entry) => entry.split(' ').slice(1).join(' ')).sort();
        expect(plain(ours)).toEqual(plain(reference));
      }),
      { numRuns: 200 },
    );
  });

  it('reads running status as midi-file does', () => {
    const body = [0, 0x90, 60, 64, 96, 60, 0, 0, 62, 64, 96, 62, 0, ...END];
    const data = file(header(0, 1, PPQ96), track(body));
    const kinds = parseMidi(data).tracks[0]!.map((event) => event.type);
    expect(readSmf(data).tracks[0]!.events.map(midiFileName)).toEqual(kinds);
    expect(readSmf(data).mends).toEqual([]);
  });
});

const MIDI_FILE_NAMES: Partial<Record<SmfEvent['kind'], string>> = {
  noteOn: 'noteOn',
  noteOff: 'noteOff',
  keyPressure: 'noteAftertouch',
  control: 'controller',
  program: 'programChange',
  channelPressure: 'channelAftertouch',
  pitchBend: 'pitchBend',
  tempo: 'setTempo',
  sysex: 'sysEx',
  escape: 'endSysEx',
  lyric: 'lyrics',
  channelPrefix: 'channelPrefix',
  port: 'portPrefix',
  otherMeta: 'unknownMeta',
};

const midiFileName = (event: SmfEvent): string => MIDI_FILE_NAMES[event.kind] ?? event.kind;

describe("the specification's own figures", () => {
  // Standard MIDI Files 1.0 (RP-001), table of variable-length quantities.
  it.each([
    [0x00000000, [0x00]],
    [0x00000040, [0x40]],
    [0x0000007f, [0x7f]],
    [0x00000080, [0x81, 0x00]],
    [0x00002000, [0xc0, 0x00]],
    [0x00003fff, [0xff, 0x7f]],
    [0x00004000, [0x81, 0x80, 0x00]],
    [0x00100000, [0xc0, 0x80, 0x00]],
    [0x001fffff, [0xff, 0xff, 0x7f]],
    [0x00200000, [0x81, 0x80, 0x80, 0x00]],
    [0x08000000, [0xc0, 0x80, 0x80, 0x00]],
    [0x0fffffff, [0xff, 0xff, 0xff, 0x7f]],
  ])('reads the quantity %i', (value, written) => {
    const data = file(header(0, 1, PPQ96), track([...written, 0xff, 0x2f, 0]));
    const smf = readSmf(data);
    expect(smf.tracks[0]!.events).toEqual([{ kind: 'endOfTrack', tick: value }]);
    expect(smf.mends).toEqual([]);
    expect(writeSmf(smf)).toEqual(data);
  });

  // Standard MIDI Files 1.0 (RP-001), the worked example in its format 0 form, byte for byte.
  it('reads the worked example', () => {
    const body = [
      [0x00, 0xff, 0x58, 0x04, 0x04, 0x02, 0x18, 0x08],
      [0x00, 0xff, 0x51, 0x03, 0x07, 0xa1, 0x20],
      [0x00, 0xc0, 0x05, 0x00, 0xc1, 0x2e, 0x00, 0xc2, 0x46],
      [0x00, 0x92, 0x30, 0x60, 0x00, 0x3c, 0x60],
      [0x60, 0x91, 0x43, 0x40, 0x60, 0x90, 0x4c, 0x20],
      [0x81, 0x40, 0x82, 0x30, 0x40, 0x00, 0x3c, 0x40],
      [0x00, 0x81, 0x43, 0x40, 0x00, 0x80, 0x4c, 0x40],
      [0x00, 0xff, 0x2f, 0x00],
    ].flat();
    const smf = readSmf(file(header(0, 1, PPQ96), track(body)));
    expect(smf.mends).toEqual([]);
    const performance = readPerformance(smf);
    expect(performance.meters).toEqual([{ tick: 0, numerator: 4, denominator: 4 }]);
    expect(performance.tempos).toEqual([{ tick: 0, microsPerQuarter: 500_000 }]);
    const notes = performance.strands.map((strand) => [
      strand.channel,
      strand.programs,
      strand.notes.map((note) => [note.key, note.on, note.off, note.velocity]),
    ]);
    expect(notes).toEqual([
      [0, [5], [[76, 192, 384, 32]]],
      [1, [46], [[67, 96, 384, 64]]],
      [
        2,
        [70],
        [
          [48, 0, 384, 96],
          [60, 0, 384, 96],
        ],
      ],
    ]);
  });
});

describe('what is mended, and said', () => {
  const on = [0, 0x90, 60, 64];
  const off = [96, 0x80, 60, 64];
  const notesOf = (data: Uint8Array) =>
    readPerformance(readSmf(data)).strands[0]!.notes.map((note) => [note.key, note.on, note.off]);
  const whole = [...on, ...off, ...END];

  it.each([
    [
      'a track length that is too long',
      file(header(0, 1, PPQ96), track(whole, 900)),
      'The track is said to be 900 bytes long; the file ends before.',
    ],
    [
      'a track length that is too short',
      file(header(1, 2, PPQ96), track(whole, 5), track(END)),
      'The track gives its length as 5; it is 12.',
    ],
    [
      'no end of track',
      file(header(0, 1, PPQ96), track([...on, ...off])),
      'The track has no end-of-track event.',
    ],
    [
      'a wrong number of tracks',
      file(header(1, 7, PPQ96), track(whole)),
      'The header announces 7 tracks; the file holds 1.',
    ],
    [
      'stray data bytes',
      file(header(0, 1, PPQ96), track([0, 1, 2, 3, ...whole])),
      '3 data bytes without a status.',
    ],
    [
      'a data byte over 127',
      file(header(0, 1, PPQ96), track([0, 0x90, 60, 200, ...off, ...END])),
      'A data byte has the value 200.',
    ],
    [
      'bytes before the header',
      file([1, 2, 3], header(0, 1, PPQ96), track(whole)),
      '3 bytes stand before the MIDI header.',
    ],
    [
      'bytes after the end of track',
      file(header(0, 1, PPQ96), track([...whole, 1, 2])),
      '2 bytes stand after the end of the track.',
    ],
    [
      'running status after a meta event',
      file(header(0, 1, PPQ96), track([...on, 0, 0xff, 1, 0, 96, 60, 0, ...END])),
      'Running status goes on after a meta or system event.',
    ],
    [
      'a real-time message',
      file(header(0, 1, PPQ96), track([...on, 0, 0xf8, ...off, ...END])),
      'A message of status F8 has no place in a file.',
    ],
    [
      'a division of 0',
      file(header(0, 1, [0, 0]), track(whole)),
      'The division is 0 ticks per quarter note.',
    ],
    [
      'a tempo of the wrong length',
      file(header(0, 1, PPQ96), track([0, 0xff, 0x51, 2, 7, 1, ...whole])),
      'A tempo of 2 bytes.',
    ],
    ['format 3', file(header(3, 1, PPQ96), track(whole)), 'Format 3 does not exist.'],
  ])('%s', (_, data, what) => {
    const { mends } = readSmf(data);
    expect(mends.map((mend) => mend.what)).toContain(what);
    for (const mend of mends) expect(mend.at).toBeLessThanOrEqual(data.length);
    expect(notesOf(data)).toEqual([[60, 0, 96]]);
  });

  it('a file cut off anywhere gives its notes up to there, or says that it is no MIDI file', () => {
    const data = file(header(0, 1, PPQ96), track([...on, ...off, ...on, ...off, ...END]));
    for (let length = 0; length < data.length; length++) {
      const cut = data.slice(0, length);
      if (length < 22) expect(() => readSmf(cut)).toThrow(NotAnSmfError);
      else {
        expect(readSmf(cut).mends.length).toBeGreaterThan(0);
        expect(
          readPerformance(readSmf(cut)).strands.flatMap((strand) => strand.notes).length,
        ).toBeLessThanOrEqual(2);
      }
    }
  });

  it('a file inside a RIFF wrapper', () => {
    const inner = [...header(0, 1, PPQ96), ...track(whole)];
    const data = file(ascii('RIFF'), uint32(0), ascii('RMID'), ascii('data'), uint32(0), inner);
    expect(readSmf(data).mends).toEqual([]);
    expect(notesOf(data)).toEqual([[60, 0, 96]]);
  });

  it('random damage never ends in anything but a reading or one sentence', () => {
    fc.assert(
      fc.property(anySmf, fc.array(fc.tuple(fc.nat(), fc.nat(255)), { maxLength: 20 }), (smf, damage) => {
        const data = writeSmf(smf);
        for (const [at, value] of damage) data[at % data.length] = value;
        try {
          const read = readSmf(data);
          readPerformance(read);
          expect(read.mends.length).toBeLessThanOrEqual(501);
        } catch (error) {
          expect(error).toBeInstanceOf(NotAnSmfError);
        }
      }),
      { numRuns: 1500 },
    );
  });

  it.each([
    ['an empty file', new Uint8Array(), 'The file is empty.'],
    [
      'a text',
      new TextEncoder().encode('not a note in here, only words'),
      'This is not a Standard MIDI File: it has no MIDI header.',
    ],
    ['a header alone', file(header(1, 0, PPQ96)), 'The file has a MIDI header but no track.'],
    ['a huge file', new Uint8Array(MAX_SMF_BYTES + 1), 'The file is larger than 50 MB.'],
  ])('refuses %s in one sentence', (_, data, sentence) => {
    expect(() => readSmf(data)).toThrow(new NotAnSmfError(sentence));
  });
});
