import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { DEFAULT_HAND_OVER, type HandOverChoice } from '@/core/decisions/kinds/hand-over';
import { deliverMidi } from '@/core/deliver';
import { writeMusicXml } from '@/core/sources/musicxml/write';
import { readSmf } from '@/core/sources/smf/read';
import { writeSmf } from '@/core/sources/smf/write';
import { transcribeNow, unaccounted } from '@/core/transcribe';
import { readClosed } from '../helpers/closure';
import { layOutFile } from '../helpers/desk';
import { briefOf } from '../helpers/made-file';
import { parseXml, schemaFaults } from '../helpers/schema';

/** MIDI files of Debian's package openttd-openmsx; read where it is installed, never copied. */
const FOLDER = '/usr/share/games/openttd/baseset/openmsx';
const names = existsSync(FOLDER) ? readdirSync(FOLDER).filter((name) => name.endsWith('.mid')) : [];

/** All events; whether a status byte was left out (running status) is no part of the music. */
const withoutRunning = (bytes: Uint8Array) =>
  parseMidi(new Uint8Array(bytes)).tracks.map((track) =>
    track.map((event) => ({ ...event, running: undefined })),
  );

describe.skipIf(names.length === 0)('real files', () => {
  it.each(names)(
    '%s is read as midi-file reads it, handed over unchanged or plain, and written as valid, closed MusicXML',
    (name) => {
      const bytes = readFileSync(join(FOLDER, name));
      const smf = readSmf(bytes);
      expect(smf.mends).toEqual([]);
      expect(readSmf(writeSmf(smf)).tracks).toEqual(smf.tracks);
      expect(smf.tracks.map((track) => track.events.length)).toEqual(
        parseMidi(bytes).tracks.map((track) => track.length),
      );
      // What goes by other beats than the file's is laid along those unless the file's are decided on.
      const desk = layOutFile(smf, briefOf({ kind: 'beats', ticks: [], perBar: 4, first: 0 }));
      const full: HandOverChoice = {
        ...DEFAULT_HAND_OVER,
        form: 'full',
        programs: 'source',
        channels: 'source',
      };
      const untouched = deliverMidi(desk, { ...full, type: smf.format === 0 ? 0 : 1 });
      expect(withoutRunning(untouched)).toEqual(withoutRunning(bytes));
      const plain = parseMidi(deliverMidi(desk)).tracks.flat();
      expect(plain.filter((event) => event.type === 'noteOn' && event.velocity > 0)).toHaveLength(
        desk.source.strands.reduce((sum, strand) => sum + strand.notes.length, 0),
      );
      expect(plain.some((event) => event.type === 'programChange')).toBe(false);
      const { score, account } = transcribeNow(desk.performance, EMPTY_BRIEF);
      expect(unaccounted(account)).toBe(0);
      const document = writeMusicXml(score);
      const root = parseXml(document);
      expect(schemaFaults(root)).toEqual([]);
      const { faults, notes } = readClosed(root);
      expect(faults).toEqual([]);
      expect([notes.length, document.split('<grace').length - 1]).toEqual([account.written, account.graces]);
      // A direction for a bar or two would be worse than none.
      for (const swing of score.swings ?? []) expect(swing.to - swing.from).toBeGreaterThanOrEqual(4);
    },
  );
});
