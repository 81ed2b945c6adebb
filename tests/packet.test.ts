import { unzipSync } from 'fflate';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { fileNames } from '@/core/basics/file-names';
import { finished } from '@/core/basics/steps';
import { EMPTY_BRIEF, parseBrief } from '@/core/decisions/brief';
import { withDirectives } from '@/core/decisions/decisions';
import type { PlainDirective } from '@/core/decisions/kinds';
import { barTable } from '@/core/deliver/bar-table';
import { WHOLE_PACKET } from '@/core/deliver/packet-choice';
import { deliverParts, withParts } from '@/core/deliver/parts';
import { tidyFile } from '@/core/demo/tidy';
import { untidyFile } from '@/core/demo/untidy';
import { scoreSide } from '@/core/proof/going-out';
import { reconcile } from '@/core/reconcile';
import { agreement, totalsOf } from '@/core/reconcile/ledger';
import { sideOfPerformance } from '@/core/reconcile/reading';
import { readMusicXml } from '@/core/sources/musicxml/read';
import { readPerformance } from '@/core/sources/smf/performance';
import { readSmf } from '@/core/sources/smf/read';
import { packetOf } from '@/core/workbench/packet';
import { Workbench, type Written } from '@/core/workbench/workbench';
import { parseXml, schemaFaults } from './helpers/schema';

function writtenOf(bytes: Uint8Array, ...directives: PlainDirective[]): Written {
  const bench = new Workbench([{ id: '1', version: 1, name: 'a.mid', bytes }]);
  bench.layOut(1, withDirectives(EMPTY_BRIEF, directives));
  return finished(bench.write(1));
}
const text = (bytes: Uint8Array | undefined) => new TextDecoder().decode(bytes);

describe('a packet', () => {
  const written = writtenOf(tidyFile());
  const zip = unzipSync(finished(packetOf(written, WHOLE_PACKET, 'Cue 1/2')));
  const paths = Object.keys(zip);

  it('has all that was chosen in one folder, under names that sort', () => {
    expect(paths.every((path) => path.startsWith('Cue 1-2/'))).toBe(true);
    expect(paths.filter((path) => path.includes('/2 Parts/'))).toHaveLength(15);
    expect(paths[0]).toBe('Cue 1-2/1 Score.musicxml');
    expect(paths.filter((path) => /\/\d /.test(path))).toEqual(
      paths.filter((path) => /\/\d /.test(path)).sort(),
    );
  });

  it('says of each file how long it is, and what was checked', () => {
    const manifest = JSON.parse(text(zip['Cue 1-2/Manifest.json']));
    expect(manifest).toMatchObject({ title: 'Lantern Ferry', bars: 57, open: {}, meant: 0 });
    expect(manifest.agreement).toEqual({ notes: 2185, agree: 2185, meant: 0 });
    for (const { path, bytes } of manifest.files) expect(zip[`Cue 1-2/${path}`]).toHaveLength(bytes);
    expect(text(zip['Cue 1-2/Read me.txt'])).toContain('No point is open.');
  });

  it('has the bar table at the frames and the start that were chosen', () => {
    const choice = { ...WHOLE_PACKET, rate: '30' as const, start: '10:00:00:00' };
    const table = unzipSync(finished(packetOf(written, choice, 'Cue')))['Cue/5 Bar table.csv'];
    const [head, first] = text(table).split('\r\n');
    expect(head).toContain('Time code 30');
    expect(first).toContain('10:00:00:00');
  });

  it('takes in pages and sound that were made for it, under names that sort with the others', () => {
    const bytes = Uint8Array.of(37, 80, 68, 70);
    const choice = { ...WHOLE_PACKET, parts: false, midiPlayed: false };
    const made = unzipSync(
      finished(
        packetOf(written, choice, 'Cue', [
          { kind: 'rendered', name: '', bytes },
          { kind: 'recording', name: 'take/3.MP3', bytes },
          { kind: 'part-pdf', name: '02 B♭ Cl./1', bytes },
          { kind: 'score-pdf', name: '', bytes },
        ]),
      ),
    );
    expect(Object.keys(made)).toEqual([
      'Cue/1 Score.musicxml',
      'Cue/1 Score.pdf',
      'Cue/2 Parts/02 B♭ Cl.-1.pdf',
      'Cue/4 MIDI as written.mid',
      'Cue/5 Bar table.csv',
      'Cue/6 Proof.csv',
      'Cue/7 Brief.json',
      'Cue/8 Recording.MP3',
      'Cue/9 Rendered.wav',
      'Cue/Manifest.json',
      'Cue/Read me.txt',
    ]);
    const { files } = JSON.parse(text(made['Cue/Manifest.json']));
    expect(files.map(({ path }: { path: string }) => path)).toContain('8 Recording.MP3');
  });

  it('contradicts itself nowhere: score, parts and MIDI files have the same notes', () => {
    const score = scoreSide(readMusicXml(zip['Cue 1-2/1 Score.musicxml']!).score);
    for (const name of ['3 MIDI as played.mid', '4 MIDI as written.mid']) {
      const midi = sideOfPerformance(readPerformance(readSmf(zip[`Cue 1-2/${name}`]!)));
      expect(agreement(totalsOf(reconcile(score, midi)!.entries))).toBe(1);
    }
    const parts = paths
      .filter((path) => path.includes('/2 Parts/'))
      .map((path) => readMusicXml(zip[path]!).score);
    expect(parts.every((part) => part.parts.length === 1 && part.bars.length === 57)).toBe(true);
    const count = parts.reduce((sum, part) => sum + scoreSide(part).lines[0]!.notes.length, 0);
    expect(count).toBe(score.lines.reduce((sum, { notes }) => sum + notes.length, 0));
  });

  it('is the same file each time, and its documents are valid', () => {
    expect(unzipSync(finished(packetOf(written, WHOLE_PACKET, 'Cue 1/2')))).toEqual(zip);
    for (const path of paths.filter((each) => each.endsWith('.musicxml')).slice(0, 4))
      expect(schemaFaults(parseXml(text(zip[path])))).toEqual([]);
    expect(parseBrief(JSON.parse(text(zip['Cue 1-2/7 Brief.json']))).directives).toEqual([]);
  });

  it('says what is open, and what was meant', () => {
    const meant = 'ranges 1/t14c12 1/t14c12/5';
    const own = writtenOf(untidyFile(), { kind: 'meant', oddity: meant, meant: true, note: '=He can' });
    const files = unzipSync(finished(packetOf(own, { ...WHOLE_PACKET, score: false, parts: false }, '')));
    expect(Object.keys(files).every((path) => path.startsWith('Packet/'))).toBe(true);
    expect(text(files['Packet/Read me.txt'])).toMatch(/Open: .*Odd in the source 28/);
    const rows = Papa.parse<Record<string, string>>(text(files['Packet/6 Proof.csv']), { header: true }).data;
    expect(rows.length).toBeGreaterThan(30);
    expect(rows.every((row) => !/^[=+@-]/.test(row.Meant ?? ''))).toBe(true);
  });
});

describe('parts as files', () => {
  it('have names that no file system refuses, each once, in their order', () => {
    expect(fileNames(['Flute', 'Flute', 'a/b:c', '..', 'x'.repeat(200)])).toEqual([
      '01 Flute',
      '02 Flute',
      '03 a-b-c',
      '04 Part',
      `05 ${'x'.repeat(80)}`,
    ]);
  });

  it('rest over several bars as one', () => {
    const { desk, transcription } = writtenOf(tidyFile());
    const files = deliverParts(desk, transcription.score, 'musicxml');
    expect(files).toHaveLength(15);
    expect(files.some(({ bytes }) => text(bytes).includes('<multiple-rest>'))).toBe(true);
  });

  it('may be some of a score, whose brackets go along', () => {
    const { transcription } = writtenOf(tidyFile());
    const { score } = transcription;
    const some = withParts(score, new Set([score.parts[0]!.id, score.parts[3]!.id]));
    expect(some.parts.map(({ name }) => name)).toEqual([score.parts[0]!.name, score.parts[3]!.name]);
    expect(withParts(score, new Set(score.parts.map(({ id }) => id)))).toBe(score);
  });
});

describe('the bar table', () => {
  const { desk, transcription } = writtenOf(tidyFile());
  const rows = barTable(desk.performance, '25', '00:00:00:00', transcription.plans);

  it('counts in the beat that players count: a dotted quarter in 6/8', () => {
    expect(rows[1]).toMatchObject({ meter: '6/8', tempo: 90, beat: '♩.', beatTempo: 60 });
    expect(rows.find(({ meter }) => meter === '4/4')).toMatchObject({ beat: '♩', beatTempo: 112 });
  });

  it('says who plays', () => {
    expect(rows[1]!.playing).toContain('Flute');
    const { score } = transcription;
    for (const [bar, { playing }] of rows.entries()) {
      const sounding = score.parts
        .filter(({ bars }) =>
          bars[bar]?.voices.some(({ items }) => items.some(({ kind }) => kind === 'chord')),
        )
        .map(({ name }) => name);
      expect([bar, [...playing].sort()]).toEqual([bar, sounding.sort()]);
    }
  });
});
