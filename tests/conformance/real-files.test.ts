import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { EMPTY_BRIEF } from '@/core/brief/brief';
import { writeMusicXml } from '@/core/musicxml/write';
import { readPerformance } from '@/core/performance/performance';
import { readSmf } from '@/core/smf/read';
import { writeSmf } from '@/core/smf/write';
import { transcribeNow } from '@/core/transcribe';
import { readClosed } from '../helpers/closure';
import { parseXml, schemaFaults } from '../helpers/schema';

/** MIDI files of Debian's package openttd-openmsx; read where it is installed, never copied. */
const FOLDER = '/usr/share/games/openttd/baseset/openmsx';
const names = existsSync(FOLDER) ? readdirSync(FOLDER).filter((name) => name.endsWith('.mid')) : [];

describe.skipIf(names.length === 0)('real files', () => {
  it.each(names)('%s is read as midi-file reads it and written as valid, closed MusicXML', (name) => {
    const bytes = readFileSync(join(FOLDER, name));
    const smf = readSmf(bytes);
    expect(smf.mends).toEqual([]);
    expect(readSmf(writeSmf(smf)).tracks).toEqual(smf.tracks);
    expect(smf.tracks.map((track) => track.events.length)).toEqual(
      parseMidi(bytes).tracks.map((track) => track.length),
    );
    const { score, account } = transcribeNow(readPerformance(smf), EMPTY_BRIEF);
    expect(account.written + account.merged + account.leftOut + account.unwritable).toBe(account.notes);
    const root = parseXml(writeMusicXml(score));
    expect(schemaFaults(root)).toEqual([]);
    const { faults, notes } = readClosed(root);
    expect(faults).toEqual([]);
    expect(notes).toHaveLength(account.written);
  });
});
