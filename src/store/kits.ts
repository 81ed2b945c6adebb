import { BadKitError, type KitMap, parseKitMap } from '../core/instruments/kit-map';
import { readSetting, writeSetting } from './jobs';
import { withRoom } from './room';

const SETTING = 'kits';

/** The kit maps that the user keeps; damaged ones are passed over. */
export async function listKitMaps(): Promise<KitMap[]> {
  return readTexts(await readSetting(SETTING)).flatMap((text) => {
    try {
      return [parseKitMap(String(text), '')];
    } catch (error) {
      if (error instanceof BadKitError) return [];
      throw error;
    }
  });
}

function readTexts(stored = '[]'): unknown[] {
  try {
    const texts: unknown = JSON.parse(stored);
    return Array.isArray(texts) ? texts : [];
  } catch {
    return [];
  }
}

const write = async (maps: readonly KitMap[]): Promise<KitMap[]> => {
  await withRoom(() => writeSetting(SETTING, JSON.stringify(maps.map((map) => JSON.stringify(map)))));
  return [...maps];
};

/** Keeps a map in the place of any other of its name. @returns all maps */
export async function keepKit(map: KitMap): Promise<KitMap[]> {
  const others = (await listKitMaps()).filter((each) => each.name !== map.name);
  return write([...others, map]);
}

/** Forgets a map. @returns those that are left */
export async function dropKit(name: string): Promise<KitMap[]> {
  return write((await listKitMaps()).filter((map) => map.name !== name));
}
