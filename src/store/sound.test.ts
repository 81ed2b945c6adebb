import 'fake-indexeddb/auto';
import { describe, expect, it } from 'vitest';
import { GENERAL_MIDI_KIT } from '../core/instruments/kit-map';
import { database } from './database';
import { writeSetting } from './jobs';
import { dropKit, keepKit, listKitMaps } from './kits';
import { bytesOfBank, dropBank, findBank, keepBank } from './sound';

describe('what is kept for sound', () => {
  it('an own bank, until it is dropped', async () => {
    expect(await findBank()).toBeUndefined();
    await keepBank('room.sf2', new Uint8Array([1, 2, 3]));
    expect(await findBank()).toMatchObject({ name: 'room.sf2', bytes: new Uint8Array([1, 2, 3]) });
    expect(await bytesOfBank()).toEqual(new Uint8Array([1, 2, 3]));
    const bank = (await findBank())!;
    await database.banks.put({ ...bank, bytes: new Uint8Array([1, 2, 4]) });
    await expect(bytesOfBank()).rejects.toThrow('Your sound bank room.sf2 is damaged');
    await dropBank();
    expect(await findBank()).toBeUndefined();
  });

  it('kit maps by name; a damaged one is passed over', async () => {
    await keepKit({ ...GENERAL_MIDI_KIT, name: 'Room' });
    await keepKit({ ...GENERAL_MIDI_KIT, name: 'Hall' });
    await keepKit({ ...GENERAL_MIDI_KIT, name: 'Room', sounds: [{ key: 24, name: 'Kick' }] });
    const kept = await listKitMaps();
    expect(kept.map((map) => [map.name, map.sounds.length])).toEqual([
      ['Hall', 47],
      ['Room', 1],
    ]);
    expect((await dropKit('Hall')).map((map) => map.name)).toEqual(['Room']);
    await writeSetting('kits', '["no map", 7]');
    expect(await listKitMaps()).toEqual([]);
  });
});
