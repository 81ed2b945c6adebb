import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { WaveFile } from 'wavefile';
import { tidyFile } from '@/core/demo/tidy';
import { plantedFlaws, untidyFile } from '@/core/demo/untidy';
import { unpackMxl } from '@/core/sources/musicxml/mxl';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import type { Inventory } from '@/core/stock/inventory';
import { readClosed } from './helpers/closure';
import { dragoman } from './helpers/command-line';
import { parseXml, schemaFaults } from './helpers/schema';

const folder = mkdtempSync(join(tmpdir(), 'dragoman-'));
const at = (name: string) => join(folder, name);
beforeAll(() => {
  writeFileSync(at('tidy.mid'), tidyFile());
  writeFileSync(at('untidy.mid'), untidyFile());
  writeFileSync(at('text.mid'), 'no music');
  writeFileSync(
    at('brief.json'),
    JSON.stringify({
      format: 'dragoman-brief',
      version: 1,
      directives: [
        { kind: 'leave-out', strand: '1/t14c12', out: true },
        { kind: 'name', strand: '1/t2c1', name: 'Flute solo' },
        { kind: 'clock', firstBar: 101 },
      ],
    }),
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('precedents on the command line', () => {
  const precedents = {
    format: 'dragoman-precedents',
    version: 1,
    precedents: [
      { key: 'harfe', name: 'Harfe', part: 'Harp solo', jobId: 'a', job: 'Cue 1', at: 1 },
      { key: 'vlns thick 8va', name: 'Vlns thick 8va', out: true, jobId: 'a', job: 'Cue 1', at: 1 },
    ],
  };
  const tracksOf = async (...options: string[]) => {
    const { status, stderr } = await dragoman(
      'convert',
      at('untidy.mid'),
      '--to',
      'midi',
      ...options,
      '-o',
      at('cast.mid'),
    );
    expect(stderr).toBe('');
    expect(status).toBe(0);
    return readPerformance(readSmf(new Uint8Array(readFileSync(at('cast.mid'))))).strands.map(
      ({ name }) => name,
    );
  };

  it('decide for the strands that are called so, and for no other', async () => {
    writeFileSync(at('precedents.json'), JSON.stringify(precedents));
    const before = await tracksOf();
    const after = await tracksOf('--precedents', at('precedents.json'));
    expect(before).toHaveLength(16);
    expect(after).toHaveLength(15);
    expect(after).toContain('Harp solo');
  });

  it('are refused in one line when their file is broken', async () => {
    const { status, stderr } = await dragoman(
      'convert',
      at('untidy.mid'),
      '--to',
      'midi',
      '--precedents',
      at('text.mid'),
      '-o',
      at('x.mid'),
    );
    expect(status).toBe(2);
    expect(stderr.trim()).toBe('dragoman: This is no file of precedents: it is not JSON.');
  });
});

describe('marks on the command line', () => {
  const convert = (...options: string[]) =>
    dragoman('convert', at('untidy.mid'), ...options, '-o', at('marked.musicxml'));

  it('are those of the playing that are asked for', async () => {
    expect(await convert('--to', 'musicxml', '--marks', 'dynamics,hairpins')).toMatchObject({
      status: 0,
      stderr: '',
    });
    const xml = readFileSync(at('marked.musicxml'), 'utf8');
    expect(schemaFaults(parseXml(xml))).toEqual([]);
    expect(xml).toContain('<dynamics>');
    expect(xml).toContain('<wedge ');
    expect((await convert('--to', 'musicxml')).status).toBe(0);
    expect(readFileSync(at('marked.musicxml'), 'utf8')).not.toMatch(/<dynamics>|<wedge /);
  });

  it('are refused in one line where there are none such, or no page', async () => {
    for (const options of [
      ['--to', 'musicxml', '--marks', 'dynamics,loudness'],
      ['--to', 'midi', '--marks', 'all'],
    ]) {
      const { status, stderr } = await convert(...options);
      expect(status).toBe(2);
      expect(stderr).toMatch(/^dragoman: --marks goes with --to musicxml or mxl and takes all/);
    }
  });
});

describe('convert of a score', () => {
  const note = (step: string, more = '') =>
    `<note default-x="9"><pitch><step>${step}</step><octave>4</octave></pitch><duration>4</duration><voice>1</voice>${more}</note>`;
  const score = `<score-partwise><part-list><score-part id="P1"><part-name>Horn in F</part-name></score-part></part-list><part id="P1"><measure number="1"><print new-page="yes"/><attributes><divisions>1</divisions><key><fifths>1</fifths></key><transpose><diatonic>-4</diatonic><chromatic>-7</chromatic></transpose></attributes><direction><direction-type><dynamics><p/></dynamics></direction-type></direction>${note('G')}</measure><measure number="2"><direction><direction-type><words>stopped</words></direction-type></direction>${note('A')}<barline location="right"><repeat direction="backward"/></barline></measure></part></score-partwise>`;
  beforeAll(() => writeFileSync(at('horn.musicxml'), score));
  const converted = async (name: string, ...options: string[]) => {
    const { status, stderr } = await dragoman('convert', at('horn.musicxml'), ...options, '-o', at(name));
    expect(stderr).toBe('');
    expect(status).toBe(0);
    return readFileSync(at(name));
  };

  it('writes it as it came, in concert pitch, and without layout', async () => {
    expect((await converted('same.musicxml', '--to', 'musicxml')).toString()).toBe(score);
    const concert = (
      await converted('concert.musicxml', '--to', 'musicxml', '--pitch', 'concert')
    ).toString();
    expect(concert).toContain('<fifths>0</fifths>');
    expect(concert).not.toContain('<transpose>');
    expect([...concert.matchAll(/<step>(.)/g)].map(([, step]) => step)).toEqual(['C', 'D']);
    const plain = (await converted('plain.musicxml', '--to', 'musicxml', '--layout', 'left-out')).toString();
    expect(plain).toBe(score.replaceAll(' default-x="9"', '').replace('<print new-page="yes"/>', ''));
  });

  it('writes tracks for techniques, a curve, and what is repeated once', async () => {
    const options = ['--to', 'midi', '--apart', 'techniques', '--dynamics', 'both', '--no-repeats'];
    const { tracks } = readSmf(new Uint8Array(await converted('horn.mid', ...options)));
    const kinds = tracks
      .slice(1)
      .map(({ events }) => events.map((event) => (event.kind === 'control' ? event.controller : event.kind)));
    const one = ['trackName', 1, 'noteOn', 'noteOff', 'endOfTrack'];
    expect(kinds).toEqual([one, one]);
  });

  it('refuses what it does not know', async () => {
    for (const [option, value, message] of [
      ['--apart', 'mutes', '--apart goes with --to midi'],
      ['--dynamics', 'loud', '--dynamics goes with --to midi'],
    ] as const) {
      const { status, stderr } = await dragoman(
        'convert',
        at('horn.musicxml'),
        '--to',
        'midi',
        option,
        value,
        '-o',
        at('x'),
      );
      expect(status).toBe(2);
      expect(stderr).toContain(message);
    }
    const { stderr } = await dragoman(
      'convert',
      at('horn.musicxml'),
      '--to',
      'musicxml',
      '--pitch',
      'high',
      '-o',
      at('x'),
    );
    expect(stderr).toContain('--pitch goes with --to musicxml');
  });
});

describe('proof', () => {
  it('ends with 0 where all agrees and nothing is wrong, and with 1 where not', async () => {
    const tidy = await dragoman('proof', at('tidy.mid'));
    expect(tidy.status).toBe(0);
    expect(tidy.stdout).toContain(
      'source and score: 2185 of 2,185 notes agree, 0 otherwise by decision, 0 unexplained',
    );
    const untidy = await dragoman('proof', at('untidy.mid'), '--json');
    expect(untidy.status).toBe(1);
    const { agreement, findings } = JSON.parse(untidy.stdout);
    expect(agreement.notes - agreement.agree).toBe(4);
    expect(findings[0]).toMatchObject({
      weight: 'wrong',
      part: 'Violoncello',
      bar: 0,
      place: 'beat 2, last eighth',
    });
  });
});

describe('compare', () => {
  it('ends with 0 where two files agree, and lists what differs where not', async () => {
    expect(
      (await dragoman('convert', at('tidy.mid'), '--to', 'musicxml', '-o', at('tidy.musicxml'))).status,
    ).toBe(0);
    const same = await dragoman('compare', at('tidy.mid'), at('tidy.musicxml'));
    expect([same.status, same.stdout]).toEqual([
      0,
      '2,185 notes agree, 0 differ; laid over each other by bars\n',
    ]);
    const other = await dragoman('compare', at('tidy.mid'), at('untidy.mid'), '--csv');
    expect(other.status).toBe(1);
    expect(other.stdout.split('\n')[0]).toContain('Part (first)');
  });
});

describe('packet', () => {
  it('is a zip of each file', async () => {
    expect((await dragoman('packet', at('tidy.mid'), '--mxl', '-o', at('packet.zip'))).status).toBe(0);
    const files = Object.keys(unzipSync(readFileSync(at('packet.zip'))));
    expect(files).toContain('tidy/1 Score.mxl');
    expect(files).toContain('tidy/Manifest.json');
  });
});

describe('a recording of a single line', () => {
  const KEYS = [72, 74, 76, 77, 79, 77, 76, 74, 72, 76, 79, 84];
  beforeAll(() => {
    const rate = 22_050;
    const samples = new Float64Array(Math.round((KEYS.length * 0.5 + 1) * rate));
    KEYS.forEach((key, index) => {
      const hertz = 440 * 2 ** ((key - 69) / 12);
      for (let at = 0; at < 0.45 * rate; at++) {
        const level = Math.min(1, at / 300, (0.45 * rate - at) / 300);
        const phase = (2 * Math.PI * hertz * at) / rate;
        samples[Math.round((0.3 + index * 0.5) * rate) + at]! +=
          0.4 * level * (Math.sin(phase) + Math.sin(2 * phase) / 3);
      }
    });
    const file = new WaveFile();
    file.fromScratch(1, rate, '64', samples);
    file.toBitDepth('16');
    writeFileSync(at('flute.wav'), file.toBuffer());
    writeFileSync(
      at('silence.wav'),
      (() => {
        const silent = new WaveFile();
        silent.fromScratch(1, rate, '16', new Int16Array(rate));
        return silent.toBuffer();
      })(),
    );
  });

  it('is heard, raw as a MIDI file and tidied as a page', async () => {
    const { stdout, status } = await dragoman('inspect', at('flute.wav'), '--json');
    expect(status).toBe(0);
    const { recording, strands } = JSON.parse(stdout);
    expect(recording.notes.map(({ key }: { key: number }) => key)).toEqual(KEYS);
    expect(strands).toMatchObject([{ name: 'flute', notes: KEYS.length }]);
    expect((await dragoman('inspect', at('flute.wav'))).stdout).toMatch(
      /^recording of 7\.0 s: 12 notes heard as one line, \d of them doubtful/,
    );
    expect(
      (await dragoman('convert', at('flute.wav'), '--to', 'midi', '--times', 'played', '-o', at('raw.mid')))
        .status,
    ).toBe(0);
    const [raw] = readPerformance(readSmf(readFileSync(at('raw.mid')))).strands;
    expect(raw!.notes.map(({ key }) => key)).toEqual(KEYS);
    expect(
      (await dragoman('convert', at('flute.wav'), '--to', 'musicxml', '-o', at('flute.musicxml'))).status,
    ).toBe(0);
    expect(schemaFaults(parseXml(readFileSync(at('flute.musicxml'), 'utf8')))).toEqual([]);
  });

  it.each(['flac', 'ogg', 'opus', 'mp3'])(
    'is heard as %s, too (scripts/sound-fixtures.py)',
    async (extension) => {
      const path = fileURLToPath(new URL(`fixtures/sounds/tones.${extension}`, import.meta.url));
      const { stdout, stderr, status } = await dragoman('inspect', path, '--json');
      expect([status, stderr]).toEqual([0, '']);
      const { recording } = JSON.parse(stdout);
      expect(recording.read).toBe('line');
      expect(recording.notes.map(({ key }: { key: number }) => key)).toEqual([72, 74, 76, 77]);
      // Cut off in the middle, or a text of that name, it is refused in a sentence, or what is left of it is heard.
      writeFileSync(at(`cut.${extension}`), readFileSync(path).subarray(0, 3000));
      const cut = await dragoman('inspect', at(`cut.${extension}`));
      if (cut.status !== 0)
        expect([cut.status, cut.stderr]).toEqual([2, expect.stringMatching(/^dragoman: .+\.\n$/)]);
      writeFileSync(at(`words.${extension}`), 'not a sound at all');
      expect((await dragoman('inspect', at(`words.${extension}`))).status).toBe(2);
    },
  );

  it('without a note is refused in a sentence', async () => {
    const { stderr, status } = await dragoman('inspect', at('silence.wav'));
    expect([status, stderr.trim()]).toEqual([2, expect.stringContaining('This recording is silent.')]);
  });
});

describe('inspect', () => {
  it('prints what a file holds as JSON', async () => {
    const { stdout, status } = await dragoman('inspect', at('untidy.mid'), '--json');
    expect(status).toBe(0);
    const inventory = JSON.parse(stdout) as Inventory;
    expect(inventory.format).toBe(1);
    expect(inventory.clock.tempos).toHaveLength(13);
    expect(inventory.clock.meters.map((meter) => [meter.bar, meter.numerator, meter.denominator])).toEqual([
      [0, 1, 8],
      [1, 6, 8],
      [17, 4, 4],
      [37, 5, 8],
      [45, 4, 4],
    ]);
    expect(inventory.clock.markers.map((marker) => [marker.bar, marker.text])).toEqual([
      [1, 'A'],
      [17, 'B'],
      [37, 'C'],
      [45, 'D'],
    ]);
    const clarinet = inventory.strands.find((strand) => strand.name === 'Klarinette in B')!;
    expect(clarinet).toMatchObject({
      id: '1/t3c2',
      track: 3,
      channel: 2,
      notes: 116,
      lowest: 57,
      programs: [72],
    });
    expect(clarinet.guess).toMatchObject({
      instrument: 'wind.reed.clarinet.bflat',
      name: 'B♭ Clarinet',
      confidence: 0.95,
    });
    expect(clarinet.controllers.map((use) => [use.controller, use.count])).toEqual([
      [7, 2],
      [10, 2],
      [11, 1],
      [91, 1],
      [93, 1],
    ]);
    expect(inventory.noteFree.map((track) => track.name)).toEqual(['LANTERN FERRY v7', 'notes for the mix']);
    expect(inventory.oddities).toHaveLength(plantedFlaws().length);
    expect(inventory.doubles.find((double) => double.whole)).toMatchObject({
      strand: '1/t14c12',
      of: '1/t13c12',
    });
    expect(inventory.controllers.filter((use) => use.strand === '1/t2c1' && use.mixer)).toHaveLength(5);
    expect(inventory.mends).toEqual([]);
  });

  it('prints it for people', async () => {
    const { stdout } = await dragoman('inspect', at('tidy.mid'));
    expect(stdout).toContain('format 1, 480 ticks a quarter note, 57 bars');
    expect(stdout).toMatch(/t2c1\s+Flute\s+100 notes/);
  });

  it('lists what the playing shows, on request', async () => {
    const { stdout } = await dragoman('inspect', at('untidy.mid'), '--heard', '--json');
    const { heard } = JSON.parse(stdout) as { heard: { marks: { kind: string; mark: string }[] } };
    expect(heard.marks.filter(({ kind }) => kind === 'chords')).toHaveLength(52);
    expect(heard.marks.find(({ kind }) => kind === 'chords')).toMatchObject({ bar: 1, mark: 'D' });
    expect((await dragoman('inspect', at('untidy.mid'), '--heard')).stdout).toMatch(
      /heard: dynamics \d+.*chords 52/,
    );
  });
});

describe('convert to midi', () => {
  const convert = (...args: string[]) => dragoman('convert', at('untidy.mid'), '--to', 'midi', ...args);
  const heard = (name: string) => readPerformance(readSmf(readFileSync(at(name))));

  it('writes the plain file under a brief', async () => {
    expect((await convert('--brief', at('brief.json'), '-o', at('plain.mid'))).status).toBe(0);
    const { strands, tempos } = heard('plain.mid');
    expect(strands).toHaveLength(15);
    expect(strands[0]!.name).toBe('Flute solo');
    expect(strands.every((strand) => strand.shaping.length === 0)).toBe(true);
    expect(tempos).toHaveLength(13);
  });

  it('writes only the clock', async () => {
    expect((await convert('--only', 'clock', '-o', at('clock.mid'))).status).toBe(0);
    const { strands, tempos, meters, markers } = heard('clock.mid');
    expect([strands.length, tempos.length, meters.length, markers.length]).toEqual([0, 13, 5, 4]);
  });

  it('writes loops as a zip', async () => {
    expect((await convert('--only', 'loops', '-o', at('loops.zip'))).status).toBe(0);
    expect(Object.keys(unzipSync(readFileSync(at('loops.zip')))).length).toBeGreaterThan(40);
  });

  it('refuses a form that it does not know', async () => {
    const { status, stderr } = await convert('--only', 'drums', '-o', at('no.mid'));
    expect([status, stderr]).toEqual([
      2,
      'dragoman: --only goes with --to midi and takes plain, full, clock or loops.\n',
    ]);
  });
});

describe('convert', () => {
  it('writes MusicXML under a brief', async () => {
    const out = at('untidy.musicxml');
    const { status, stderr } = await dragoman(
      'convert',
      at('untidy.mid'),
      '--to',
      'musicxml',
      '--brief',
      at('brief.json'),
      '-o',
      out,
    );
    expect([status, stderr]).toEqual([0, '']);
    const document = readFileSync(out, 'utf8');
    const root = parseXml(document);
    expect(schemaFaults(root)).toEqual([]);
    expect(readClosed(root).faults).toEqual([]);
    expect(document).toContain('<part-name>Flute solo</part-name>');
    expect(document).not.toContain('Violin III');
    expect(document).toContain('<measure number="100" implicit="yes">');
  });

  it('says what of a brief this file cannot follow, and does the rest', async () => {
    writeFileSync(
      at('other.json'),
      JSON.stringify({
        format: 'dragoman-brief',
        version: 2,
        directives: [
          { kind: 'name', strand: '1/t2c1', name: 'Flute solo' },
          { kind: 'name', strand: '1/t99c1', name: 'Nobody' },
        ],
      }),
    );
    const args = ['--to', 'musicxml', '--brief', at('other.json'), '-o', at('other.musicxml')];
    const { status, stderr } = await dragoman('convert', at('untidy.mid'), ...args);
    expect(status).toBe(0);
    expect(stderr).toBe(
      'untidy.mid: not followed: What was decided about Track 99, channel 1 waits: there is no such strand now.\n',
    );
    expect(readFileSync(at('other.musicxml'), 'utf8')).toContain('<part-name>Flute solo</part-name>');
  });

  it('writes pages', async () => {
    const { status, stderr } = await dragoman('convert', at('tidy.mid'), '--to', 'pdf', '-o', at('tidy.pdf'));
    expect(stderr).toBe('');
    expect(status).toBe(0);
    expect(readFileSync(at('tidy.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  });

  it('writes several files as .mxl into a folder', async () => {
    const { status } = await dragoman(
      'convert',
      at('tidy.mid'),
      at('untidy.mid'),
      '--to',
      'mxl',
      '-o',
      folder,
    );
    expect(status).toBe(0);
    for (const name of ['tidy.mxl', 'untidy.mxl'])
      expect(schemaFaults(parseXml(new TextDecoder().decode(unpackMxl(readFileSync(at(name))))))).toEqual([]);
  });
});

describe('the program', () => {
  const program = (...words: string[]) =>
    spawnSync(process.execPath, ['scripts/dragoman.mjs', ...words], { encoding: 'utf8' });

  it('takes the words of a command line, and ends with the code of the command', () => {
    const { status, stdout, stderr } = program('inspect', at('tidy.mid'), '--json');
    expect([status, stderr]).toEqual([0, '']);
    expect(JSON.parse(stdout)).toMatchObject({ format: 1, kind: 'performance' });
    expect(program('compare', at('tidy.mid'), at('untidy.mid'), '--csv').status).toBe(1);
    const refused = program('inspect', at('text.mid'));
    expect([refused.status, refused.stdout]).toEqual([2, '']);
    expect(refused.stderr).toBe('dragoman: This is not a Standard MIDI File: it has no MIDI header.\n');
    expect(program('--help').stdout).toMatch(/^Usage:/);
  });
});

describe('what it cannot do', () => {
  it.each([
    ['no command', [], '"" is no command; try inspect, convert, proof, compare, packet, stems or batch.'],
    [
      'an unknown command',
      ['sing'],
      '"sing" is no command; try inspect, convert, proof, compare, packet, stems or batch.',
    ],
    ['a file that is not there', ['inspect', at('none.mid')], `${at('none.mid')} cannot be read.`],
    [
      'a file that is no MIDI file',
      ['convert', at('text.mid'), '--to', 'mxl', '-o', at('x.mxl')],
      'This is not a Standard MIDI File: it has no MIDI header.',
    ],
    [
      'a good file beside a bad one',
      ['convert', at('tidy.mid'), at('text.mid'), '--to', 'mxl', '-o', folder],
      'This is not a Standard MIDI File: it has no MIDI header.',
    ],
    [
      'an unknown form',
      ['convert', at('tidy.mid'), '--to', 'wax', '-o', at('x.wax')],
      '--to takes musicxml, mxl, midi, pdf.',
    ],
    ['no output', ['convert', at('tidy.mid'), '--to', 'mxl'], 'convert needs -o OUT.'],
    ['no second file', ['compare', at('tidy.mid')], 'compare takes two files.'],
    [
      'a rate that is none',
      ['packet', at('tidy.mid'), '--rate', '23', '-o', at('no.zip')],
      '--rate takes 24, 25, 29.97, 30.',
    ],
    [
      'a time code that its rate leaves out',
      ['packet', at('tidy.mid'), '--rate', '29.97', '--start', '01:01:00;00', '-o', at('no.zip')],
      '01:01:00;00 is no time code at 29.97 drop frames a second.',
    ],
    ['nowhere to put a packet', ['packet', at('tidy.mid')], 'packet needs -o OUT.'],
    ['an unknown option', ['inspect', at('tidy.mid'), '--loud'], "Unknown option '--loud'"],
    [
      'a brief that is none',
      ['convert', at('tidy.mid'), '--to', 'mxl', '--brief', at('text.mid'), '-o', at('x.mxl')],
      `${at('text.mid')} is not JSON.`,
    ],
    [
      'a folder that is not there',
      ['convert', at('tidy.mid'), at('untidy.mid'), '--to', 'mxl', '-o', at('none')],
      `${at('none')} is not a folder; several files need one.`,
    ],
  ])('%s: exit 2, one line, nothing written', async (_, args, message) => {
    for (const name of ['tidy.mxl', 'x.mxl']) rmSync(at(name), { force: true });
    const { status, stderr, stdout } = await dragoman(...args);
    expect(status).toBe(2);
    expect(stdout).toBe('');
    expect(stderr.trim().split('\n')).toHaveLength(1);
    expect(stderr).toContain(message);
    for (const name of ['tidy.mxl', 'x.mxl']) expect(existsSync(at(name))).toBe(false);
  });
});

describe('a line-up on the command line', () => {
  const convert = (lineUp: string) =>
    dragoman('convert', at('untidy.mid'), '--to', 'musicxml', '--line-up', lineUp, '-o', at('laid.musicxml'));
  const namesIn = (text: string) =>
    [...text.matchAll(/<part-name>(.*?)<\/part-name>/g)].map(([, name]) => name);

  it('is laid over the parts, and says which places stay empty', async () => {
    const { status, stderr } = await convert('String quintet');
    expect(status).toBe(0);
    expect(stderr.trim()).toBe('untidy.mid: no part plays Contrabass.');
    const names = namesIn(readFileSync(at('laid.musicxml'), 'utf8'));
    expect(names.slice(0, 4)).toEqual(['Violin I', 'Violin II', 'Viola', 'Violoncello']);
    expect(names).toHaveLength(16);
  });

  it('is refused in one line when it is none', async () => {
    const { status, stderr } = await convert('Nonet of kazoos');
    expect(status).toBe(2);
    expect(stderr).toContain('Nonet of kazoos is neither a file nor a standing line-up');
    expect((await convert(at('text.mid'))).stderr.trim()).toBe(
      'dragoman: This is no line-up: it is neither JSON nor a file of music.',
    );
  });
});
