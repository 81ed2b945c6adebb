/**
 * Real sequenced files of Debian's packages, read where they are installed and
 * never copied: `openttd-openmsx`, `freedoom`, and the odd-numbered ones of
 * `simutrans-data`; the others of that package stay unseen.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

export interface RealFile {
  name: string;
  bytes: Uint8Array;
}

const MSX = '/usr/share/games/openttd/baseset/openmsx';
const SIMUTRANS = '/usr/share/games/simutrans/music';
const DOOM = '/usr/share/games/doom';

function filesIn(folder: string, isWanted: (name: string) => boolean = () => true): RealFile[] {
  if (!existsSync(folder)) return [];
  return readdirSync(folder)
    .filter((name) => name.endsWith('.mid') && isWanted(name))
    .sort()
    .map((name) => ({ name, bytes: readFileSync(join(folder, name)) }));
}

/** The MIDI files inside a game's lump archive. */
function lumpsOf(path: string, name: string): RealFile[] {
  if (!existsSync(path)) return [];
  const wad = readFileSync(path);
  const count = wad.readUInt32LE(4);
  const directory = wad.readUInt32LE(8);
  return Array.from({ length: count }, (_, index) => {
    const at = directory + 16 * index;
    const start = wad.readUInt32LE(at);
    const own = wad.toString('latin1', at + 8, at + 16).replaceAll('\0', '');
    return { name: `${name}/${own}`, bytes: wad.subarray(start, start + wad.readUInt32LE(at + 4)) };
  }).filter(({ bytes }) => bytes.toString('latin1', 0, 4) === 'MThd');
}

/** Files that reading is measured on, each once. */
export function realFiles(): RealFile[] {
  const all = [
    ...filesIn(MSX),
    ...filesIn(SIMUTRANS, (name) => Number.parseInt(name, 10) % 2 === 1),
    ...lumpsOf(join(DOOM, 'freedoom1.wad'), 'freedoom1'),
    ...lumpsOf(join(DOOM, 'freedoom2.wad'), 'freedoom2'),
  ];
  const seen = new Set<string>();
  return all.filter(({ bytes }) => {
    const text = Buffer.from(bytes).toString('base64');
    const isNew = !seen.has(text);
    seen.add(text);
    return isNew;
  });
}
