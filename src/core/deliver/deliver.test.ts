import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { layOutFile } from '../../../tests/helpers/desk';
import { briefOf, deskOf, madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import type { PlainDirective } from '../decisions/kinds';
import { DEFAULT_HAND_OVER, type HandOverChoice } from '../decisions/kinds/hand-over';
import { tidyFile } from '../demo/tidy';
import { untidyFile } from '../demo/untidy';
import type { SmfEvent } from '../sources/smf/events';
import { readPerformance } from '../sources/smf/performance';
import { readSmf } from '../sources/smf/read';
import { writeSmf } from '../sources/smf/write';
import { deliverMidi, previewMidi } from '.';
import { barTable, barTableCsv } from './bar-table';
import { retime } from './retime';
import { codeOfFrames, framesOfCode, RATES, timeCode } from './smpte';

const choice = (more: Partial<HandOverChoice>): HandOverChoice => ({ ...DEFAULT_HAND_OVER, ...more });
const full = choice({ form: 'full', programs: 'source', channels: 'source' });

/** What a reference reader finds, as kind and absolute tick. */
function reference(bytes: Uint8Array) {
  const file = parseMidi(bytes);
  return {
    ...file.header,
    tracks: file.tracks.map((events) => {
      let tick = 0;
      return events.map((event) => {
        tick += event.deltaTime;
        return { ...event, tick };
      });
    }),
  };
}
const ofType = <T extends string>(tracks: ReturnType<typeof reference>['tracks'], type: T) =>
  tracks.flat().filter((event) => event.type === type) as (Extract<
    ReturnType<typeof parseMidi>['tracks'][number][number],
    { type: T }
  > & { tick: number })[];

const line: Stroke[] = [60, 62, 64, 65, 67, 69, 71, 72].map((key, at) => [at * 480, at * 480 + 450, key]);

describe('a full hand-over', () => {
  it.each([
    ['tidy', tidyFile()],
    ['untidy', untidyFile()],
  ])('of the untouched %s file is the file, byte for byte', (_, bytes) => {
    const desk = layOutFile(readSmf(bytes), briefOf());
    expect(deliverMidi(desk, full)).toEqual(bytes);
    expect(previewMidi(desk, full).untouched).toBe(true);
  });

  it('in normal form keeps every note, controller and text', () => {
    const desk = layOutFile(readSmf(untidyFile()), briefOf({ kind: 'name', strand: '1/t2c1', name: 'Solo' }));
    const again = readPerformance(readSmf(deliverMidi(desk, full)));
    const notes = (strands: typeof again.strands) =>
      strands
        .flatMap((strand) =>
          strand.notes.map((note) => `${strand.channel} ${note.on} ${note.off} ${note.key} ${note.velocity}`),
        )
        .sort();
    expect(notes(again.strands)).toEqual(notes(desk.source.strands));
    const shaping = (strands: typeof again.strands) =>
      strands.flatMap((strand) => strand.shaping.map(({ event }) => JSON.stringify(event))).sort();
    expect(shaping(again.strands)).toEqual(shaping(desk.source.strands));
    expect(again.lyrics.map(({ tick, text }) => [tick, text])).toEqual(
      desk.source.lyrics.map(({ tick, text }) => [tick, text]),
    );
    expect([again.tempos, again.meters, again.keys]).toEqual([
      desk.source.tempos,
      desk.source.meters,
      desk.source.keys,
    ]);
    expect(again.noteFree.map((track) => track.name)).toContain('notes for the mix');
    expect(again.strands.map((strand) => strand.name)).toContain('Solo');
  });

  it('keeps order within a tick: a program comes before the note that it is for', () => {
    const smf = madeFile(
      madeTrack('Vln', 0, line, [{ kind: 'program', tick: 480, channel: 0, program: 45 }]),
    );
    const desk = layOutFile(smf, briefOf({ kind: 'name', strand: '1/t1c1', name: 'Violin' }));
    const kinds = readSmf(deliverMidi(desk, full))
      .tracks[1]!.events.filter((event) => event.tick === 480)
      .map((event) => event.kind);
    expect(kinds).toEqual(['program', 'noteOn']);
  });
});

describe('a plain hand-over of the untidy demo', () => {
  const smf = readSmf(untidyFile());
  const desk = deskOf(smf, { kind: 'leave-out', strand: '1/t14c12', out: true });
  const file = reference(deliverMidi(desk, choice({})));

  it('has one named track a part, behind the clock', () => {
    expect(file.format).toBe(1);
    expect(file.numTracks).toBe(16);
    expect(ofType(file.tracks, 'trackName').map((event) => event.text)).toEqual([
      'LANTERN FERRY v7',
      ...previewMidi(desk, choice({}))
        .contents.slice(1)
        .map((track) => track.name),
    ]);
  });

  it('has no program and no mixer controller, and says how many went', () => {
    expect(ofType(file.tracks, 'programChange')).toEqual([]);
    expect(ofType(file.tracks, 'controller')).toEqual([]);
    expect(previewMidi(desk, choice({})).omissions).toEqual([
      { what: 'texts and the like', count: 1, why: 'of tracks that are not in the file' },
      expect.objectContaining({ what: 'program and bank changes', count: 16 }),
      expect.objectContaining({ what: 'mixer controllers', count: 15 * 7 }),
      expect.objectContaining({ what: 'notes', count: 134, why: 'in strands that are left out' }),
    ]);
  });

  it('keeps each note, tempo, meter, key, marker and lyric at its tick', () => {
    const kept = desk.source.strands.filter((strand) => strand.id !== '1/t14c12');
    expect(ofType(file.tracks, 'noteOn').filter((event) => event.velocity > 0)).toHaveLength(
      kept.reduce((sum, strand) => sum + strand.notes.length, 0),
    );
    expect(ofType(file.tracks, 'setTempo').map((event) => [event.tick, event.microsecondsPerBeat])).toEqual(
      desk.source.tempos.map((tempo) => [tempo.tick, tempo.microsPerQuarter]),
    );
    expect(ofType(file.tracks, 'timeSignature').map((event) => event.tick)).toEqual(
      desk.source.meters.map((meter) => meter.tick),
    );
    expect(ofType(file.tracks, 'keySignature').map((event) => event.key)).toEqual([2, 1, 1, 2]);
    expect(ofType(file.tracks, 'marker').map((event) => event.text)).toEqual(['A', 'B', 'C', 'D']);
    expect(ofType(file.tracks, 'lyrics')).toHaveLength(desk.source.lyrics.length);
  });

  it('gives each pitched part a channel and percussion the tenth', () => {
    const channels = file.tracks.slice(1).map((track) => {
      const used = new Set(track.flatMap((event) => ('channel' in event ? [event.channel] : [])));
      expect(used.size).toBe(1);
      return [...used][0]!;
    });
    expect(new Set(channels).size).toBe(15);
    expect(channels).toContain(9);
  });
});

describe('hand-over settings', () => {
  const smf = () =>
    madeFile(
      {
        events: [
          { kind: 'timeSignature', tick: 0, numerator: 3, denominator: 4, clocks: 24, thirtySeconds: 8 },
          { kind: 'tempo', tick: 0, microsPerQuarter: 500_000 },
          { kind: 'tempo', tick: 1440, microsPerQuarter: 600_000 },
          { kind: 'marker', tick: 1440, type: 6, bytes: new TextEncoder().encode('B') },
        ] as SmfEvent[],
      },
      madeTrack('Flute', 0, line),
      madeTrack('Drums', 9, [[0, 60, 36]]),
    );
  const tracksOf = (more: Partial<HandOverChoice>, ...directives: PlainDirective[]) =>
    reference(deliverMidi(deskOf(smf(), ...directives), choice(more))).tracks;

  it('clock only: every tempo and meter at its tick, and no note', () => {
    const tracks = tracksOf({ form: 'clock' });
    expect(tracks).toHaveLength(1);
    expect(ofType(tracks, 'setTempo').map((event) => [event.tick, event.microsecondsPerBeat])).toEqual([
      [0, 500_000],
      [1440, 600_000],
    ]);
    expect(ofType(tracks, 'timeSignature').map((event) => [event.tick, event.numerator])).toEqual([[0, 3]]);
    expect(ofType(tracks, 'noteOn')).toEqual([]);
    expect(tracks[0]!.at(-1)!.tick).toBe(line.at(-1)![1]);
  });

  it('adds a click on every beat, and lead-in bars that click too', () => {
    const tracks = tracksOf({ form: 'clock', click: true, leadInBars: 2 });
    const clicks = ofType(tracks, 'noteOn');
    expect(clicks.slice(0, 7).map((event) => [event.tick, event.noteNumber])).toEqual([
      [0, 76],
      [480, 77],
      [960, 77],
      [1440, 76],
      [1920, 77],
      [2400, 77],
      [2880, 76],
    ]);
    expect(ofType(tracks, 'setTempo').map((event) => event.tick)).toEqual([0, 2880 + 1440]);
    expect(ofType(tracks, 'marker').map((event) => event.tick)).toEqual([2880 + 1440]);
  });

  it('chosen strands only, one channel for all, General MIDI programs', () => {
    const tracks = tracksOf({ strands: ['1/t2c1'], channels: 'one', programs: 'general-midi' });
    expect(tracks).toHaveLength(2);
    expect(ofType(tracks, 'programChange').map((event) => [event.channel, event.programNumber])).toEqual([
      [0, 73],
    ]);
  });

  it('a program decided for a strand wins over those of the hand-over, but for none at all', () => {
    const decided: PlainDirective = { kind: 'programs', strand: '1/t2c1', use: 'number', program: 80 };
    const programs = (of: HandOverChoice['programs']) =>
      ofType(tracksOf({ programs: of }, decided), 'programChange').map((event) => event.programNumber);
    expect(programs('general-midi')).toContain(79);
    expect(programs('none')).toEqual([]);
  });

  it('type 0 puts all in one track and keeps the names by channel', () => {
    const bytes = deliverMidi(deskOf(smf()), choice({ type: 0 }));
    expect(reference(bytes).tracks).toHaveLength(1);
    expect(
      readPerformance(readSmf(bytes)).strands.map((strand) => [strand.name, strand.notes.length]),
    ).toEqual([
      ['Flute', 8],
      ['Drum Set', 1],
    ]);
  });

  it('joined strands share a track; a shared key is struck again, not swallowed', () => {
    const two = madeFile(madeTrack('Pno RH', 0, [[0, 960, 60]]), madeTrack('Pno LH', 1, [[480, 720, 60]]));
    const desk = deskOf(two, { kind: 'join', strand: '1/t2c2', into: '1/t1c1' });
    const [strand] = readPerformance(readSmf(deliverMidi(desk, choice({})))).strands;
    expect(strand!.notes.map((note) => [note.on, note.off])).toEqual([
      [0, 480],
      [480, 720],
    ]);
    expect(previewMidi(desk, choice({})).remarks[0]).toMatch(/strike their key again/);
  });

  it('a key that was decided stands in the place of the file’s', () => {
    const tracks = tracksOf({ form: 'clock' }, { kind: 'key', fifths: -3, minor: false });
    expect(ofType(tracks, 'keySignature').map((event) => [event.tick, event.key])).toEqual([[0, -3]]);
  });

  it('an upbeat that was decided becomes a bar of its own length', () => {
    const tracks = tracksOf({ form: 'clock' }, { kind: 'clock', upbeatQuarters: 0.5 });
    expect(
      ofType(tracks, 'timeSignature').map((event) => [event.tick, event.numerator, event.denominator]),
    ).toEqual([
      [0, 1, 8],
      [240, 3, 4],
    ]);
  });

  it('more than fifteen pitched parts are said to share channels', () => {
    const many = madeFile(...Array.from({ length: 17 }, (_, at) => madeTrack(`Flute ${at}`, at % 9, line)));
    expect(previewMidi(deskOf(many), choice({})).remarks[0]).toMatch(/^17 pitched parts share 15 channels/);
  });
});

describe('any performance', () => {
  const stroke = fc.tuple(
    fc.nat(4000),
    fc.integer({ min: 0, max: 800 }),
    fc.integer({ min: 30, max: 90 }),
    fc.integer({ min: 1, max: 127 }),
  );
  const shape: fc.Arbitrary<(channel: number) => SmfEvent> = fc
    .record({ tick: fc.nat(4000), controller: fc.constantFrom(1, 7, 10, 64), value: fc.nat(127) })
    .map(({ tick, controller, value }) => (channel) => ({
      kind: 'control',
      tick,
      channel,
      controller,
      value,
    }));
  const part = fc.record({
    strokes: fc.array(stroke, { minLength: 1, maxLength: 20 }),
    shapes: fc.array(shape, { maxLength: 8 }),
  });
  const made = fc.array(part, { minLength: 1, maxLength: 4 }).map((parts) =>
    madeFile(
      ...parts.map(({ strokes, shapes }, channel) =>
        madeTrack(
          `Flute ${channel + 1}`,
          channel,
          strokes.map(([on, length, key, velocity]): Stroke => [on, on + length, key, velocity]),
          shapes.map((at) => at(channel)),
        ),
      ),
    ),
  );
  /** Notes and controllers of a file, sorted, without names and places. */
  const content = (bytes: Uint8Array, mixers: boolean) => {
    const { strands } = readPerformance(readSmf(bytes));
    return strands.map((strand) => ({
      notes: strand.notes.map(({ on, off, key, velocity }) => [on, off, key, velocity].join()).sort(),
      shaping: strand.shaping.flatMap(({ event }) =>
        event.kind === 'control' && (mixers || ![7, 10].includes(event.controller))
          ? [`${event.tick} ${event.controller} ${event.value}`]
          : [],
      ),
    }));
  };

  it('goes out full in normal form and comes back with every note and controller in order', () => {
    fc.assert(
      fc.property(made, fc.constantFrom(0 as const, 1 as const), (smf, type) => {
        const desk = deskOf(smf, { kind: 'title', title: 'normal form' });
        expect(content(deliverMidi(desk, { ...full, type }), true)).toEqual(content(writeSmf(smf), true));
      }),
      { numRuns: 150 },
    );
  });

  it('goes out plain with every note and without any mixer', () => {
    fc.assert(
      fc.property(made, (smf) => {
        const bytes = deliverMidi(deskOf(smf), choice({}));
        expect(content(bytes, true)).toEqual(content(writeSmf(smf), false));
      }),
      { numRuns: 150 },
    );
  });

  it('previews what it then holds', () => {
    fc.assert(
      fc.property(made, fc.constantFrom('plain' as const, 'full' as const, 'clock' as const), (smf, form) => {
        const desk = deskOf(smf);
        const settings = choice({ form, click: true });
        const notes = previewMidi(desk, settings).contents.reduce((sum, track) => sum + track.notes, 0);
        expect(
          ofType(reference(deliverMidi(desk, settings)).tracks, 'noteOn').filter((e) => e.velocity > 0),
        ).toHaveLength(notes);
      }),
      { numRuns: 100 },
    );
  });
});

describe('another division', () => {
  const stroke = fc.tuple(fc.nat(5000), fc.integer({ min: 1, max: 900 }), fc.integer({ min: 20, max: 100 }));

  it('is exact where it holds every tick, and back again', () => {
    fc.assert(
      fc.property(
        fc.array(stroke, { minLength: 1, maxLength: 20 }),
        fc.integer({ min: 2, max: 9 }),
        (made, by) => {
          const { events } = madeTrack(
            'x',
            0,
            made.map(([on, length, key]): Stroke => [on, on + length, key]),
          );
          const finer = retime([{ events }], 480, 480 * by);
          expect(finer.rounded).toBe(0);
          expect(retime(finer.tracks, 480 * by, 480)).toEqual({ tracks: [{ events }], rounded: 0 });
        },
      ),
      { numRuns: 200 },
    );
  });

  it('else rounds by less than a tick, says so, and lets no note vanish', () => {
    const desk = deskOf(
      madeFile(
        madeTrack('Flute', 0, [
          [1, 3, 60],
          [480, 961, 62],
        ]),
      ),
    );
    const coarse = choice({ division: 24 });
    expect(previewMidi(desk, coarse).remarks[0]).toBe(
      '3 events fall between the ticks of 24 and moved by less than one.',
    );
    expect(
      readPerformance(readSmf(deliverMidi(desk, coarse))).strands[0]!.notes.map(({ on, off }) => [on, off]),
    ).toEqual([
      [0, 1],
      [24, 48],
    ]);
  });
});

describe('loops', () => {
  it('cut each part at the markers, with clock, pedal and program in force', () => {
    const desk = layOutFile(readSmf(tidyFile()), briefOf());
    const files = unzipSync(deliverMidi(desk, choice({ form: 'loops', programs: 'source' })));
    const names = Object.keys(files);
    expect(names).toContain('01 Flute/03 B (bars 17–36).mid');
    const heard = readPerformance(readSmf(files['01 Flute/03 B (bars 17–36).mid']!));
    const start = 8 * 480 * 6;
    expect(heard.tempos[0]!.microsPerQuarter).toBe(Math.round(6e7 / 112));
    expect(heard.meters).toEqual([{ tick: 0, numerator: 4, denominator: 4 }]);
    expect(heard.keys[0]!.fifths).toBe(1);
    expect(heard.strands[0]!.programs).toEqual([73]);
    expect(start).toBeGreaterThan(0);
    const all = names.reduce(
      (sum, name) => sum + readPerformance(readSmf(files[name]!)).strands[0]!.notes.length,
      0,
    );
    expect(all).toBe(desk.source.strands.reduce((sum, strand) => sum + strand.notes.length, 0));
  });

  it('or every so many bars', () => {
    const desk = deskOf(madeFile(madeTrack('Flute', 0, line)));
    expect(previewMidi(desk, choice({ form: 'loops', loopBars: 1 })).loops).toEqual([
      { file: '01 Flute/01 bars 1–1.mid', notes: 4 },
      { file: '01 Flute/02 bars 2–2.mid', notes: 4 },
    ]);
  });
});

describe('time code', () => {
  /**
   * SMPTE ST 12-1, drop frame: numbers 00 and 01 are left out at each minute
   * but every tenth. Figures from memory of the standard: 1,800 frames end the
   * first minute, ten minutes hold 17,982 frames, an hour 107,892.
   */
  it.each([
    [0, '00:00:00;00'],
    [1799, '00:00:59;29'],
    [1800, '00:01:00;02'],
    [17_981, '00:09:59;29'],
    [17_982, '00:10:00;00'],
    [19_782, '00:11:00;02'],
    [107_892, '01:00:00;00'],
    [24 * 107_892, '00:00:00;00'],
  ])('numbers frame %i as %s', (frames, code) => {
    expect(codeOfFrames(frames, '29.97 drop')).toBe(code);
  });

  it('keeps within two frames of the clock over a day', () => {
    for (let hour = 1; hour < 24; hour++) {
      const code = timeCode(hour * 3600, '29.97 drop');
      const [h, m, s, f] = code.split(/[:;]/).map(Number) as [number, number, number, number];
      expect(Math.abs(h * 3600 + m * 60 + s + f / 30 - hour * 3600)).toBeLessThan(0.1);
    }
  });

  it('is read back to the same frame, and never names a dropped number', () => {
    fc.assert(
      fc.property(fc.nat(2_500_000), fc.constantFrom(...RATES), (frames, rate) => {
        const code = codeOfFrames(frames, rate);
        expect(framesOfCode(code, rate)).toBe(
          frames % (24 * (rate === '29.97 drop' ? 107_892 : 3600 * Number(rate))),
        );
        if (rate === '29.97 drop') expect(code).not.toMatch(/:\d[1-9]:00;0[01]$/);
      }),
      { numRuns: 2000 },
    );
  });

  it('refuses what is no time code', () => {
    expect(framesOfCode('01:00:00;00', '29.97 drop')).toBe(107_892);
    expect(framesOfCode('00:01:00;00', '29.97 drop')).toBeNull();
    expect(framesOfCode('00:00:00:25', '25')).toBeNull();
    expect(framesOfCode('later', '30')).toBeNull();
  });
});

describe('the bar table', () => {
  const { performance } = layOutFile(readSmf(tidyFile()), briefOf({ kind: 'clock', firstBar: 101 }));
  const rows = barTable(performance, '25', '10:00:00:00');

  it('numbers bars as the brief says, with times, meters, tempos and markers', () => {
    expect(rows.slice(0, 2)).toMatchObject([
      { bar: 100, tick: 0, time: '0:00.000', timeCode: '10:00:00:00', meter: '6/8', tempo: 90 },
      { bar: 101, tick: 240, time: '0:00.333', timeCode: '10:00:00:08', markers: 'A' },
    ]);
    expect(rows[17]).toMatchObject({ bar: 117, meter: '4/4', tempo: 112, markers: 'B' });
    expect(rows.filter((row) => row.tempoMoves).map((row) => row.bar)).toEqual([154, 155]);
  });

  it('is written as CSV', () => {
    const [head, first] = barTableCsv(rows, '25').split('\r\n');
    expect(head).toBe(
      'Bar,Meter,Quarters a minute,Beat,Tempo changes inside,Time,Time code 25,Tick,Markers,Playing',
    );
    expect(first).toBe('100,6/8,90,♩. = 60,,0:00.000,10:00:00:00,0,,');
  });
});

describe('what a file must not do to whoever opens it', () => {
  it('a marker that opens like a formula is none in the bar table', () => {
    const marked = madeFile(
      { events: [{ kind: 'marker', tick: 0, type: 6, bytes: new TextEncoder().encode('=1+1') }] },
      madeTrack('Flute', 0, [[0, 480, 70]]),
    );
    const csv = barTableCsv(barTable(deskOf(marked).performance, '25', '00:00:00:00'), '25');
    expect(csv).toContain(`"'=1+1"`);
  });

  it('a wait longer than four bytes can tell is broken, and read back as long as it is', () => {
    const far = 3 * 0x0fffffff;
    const events: SmfEvent[] = [
      { kind: 'noteOn', tick: 0, channel: 0, key: 60, velocity: 80 },
      { kind: 'noteOff', tick: far, channel: 0, key: 60, velocity: 0, asNoteOn: false },
    ];
    const bytes = writeSmf({ format: 1, division: { kind: 'quarter', ticks: 480 }, tracks: [{ events }] });
    const read = readSmf(bytes);
    expect(read.mends).toEqual([]);
    expect(read.tracks[0]!.events.find(({ kind }) => kind === 'noteOff')!.tick).toBe(far);
    expect(parseMidi(bytes).tracks[0]!.reduce((sum, { deltaTime }) => sum + deltaTime, 0)).toBe(far);
  });

  it('names and markers of megabytes are cut, said, and safe in a zip', () => {
    const text = new TextEncoder().encode('x'.repeat(2_000_000));
    const long = madeFile(
      { events: [{ kind: 'marker', tick: 0, type: 6, bytes: text }] },
      {
        events: [
          { kind: 'trackName', tick: 0, type: 3, bytes: text },
          ...madeTrack('', 0, [[0, 480, 70]]).events,
        ],
      },
    );
    const desk = deskOf(long);
    expect(desk.performance.markers[0]!.text).toHaveLength(500);
    expect(desk.performance.mends.filter(({ done }) => done.startsWith('Cut to 500'))).toHaveLength(2);
    const zip = deliverMidi(desk, choice({ form: 'loops' }));
    for (const name of Object.keys(unzipSync(zip))) expect(name.length).toBeLessThan(140);
  });

  it('a track of 400,000 loose events is read like any other', () => {
    const loose = Array.from(
      { length: 400_000 },
      (_, tick): SmfEvent => ({ kind: 'text', tick, type: 1, bytes: new Uint8Array() }),
    );
    const many = madeFile({ events: loose }, madeTrack('Flute', 0, [[0, 480, 70]]));
    expect(readPerformance(many).loose).toHaveLength(400_000);
  });
});
