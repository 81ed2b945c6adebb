import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { finished } from '../src/core/basics/steps';
import { BadSourceError } from '../src/core/sources';
import { readScore, type ScoreReading } from '../src/core/sources/musicxml/source';

/** Works of the corpus of the Python library music21 (PyPI) that scripts/rhythm-facts.py names, as MusicXML. */
export const WORKS = [
  ...Array.from({ length: 48 }, (_, index) => `bach/bwv${253 + index}.mxl`),
  'beethoven/opus18no1/movement4.mxl',
  'mozart/k458/movement3.mxl',
  'beach/prayer_of_a_tired_child.musicxml',
  'johnson_j_r/lift_every_voice.mxl',
  'joplin/maple_leaf_rag.mxl',
  'liliuokalani/aloha_oe.mxl',
  'mozart/k545/movement1_exposition.mxl',
];

function installed(): string | null {
  if (process.env.MUSIC21) return process.env.MUSIC21;
  try {
    const program = 'import music21; print(music21.__path__[0])';
    return execFileSync('python3', ['-c', program], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    }).trim();
  } catch {
    return null;
  }
}

/** The folder of the installed library; ends the program with a word where it is not there. */
export function corpusFolder(): string {
  const folder = installed();
  if (folder && existsSync(folder)) return folder;
  console.log(
    'music21 is not installed: pip install music21, and say where by MUSIC21=…/site-packages/music21',
  );
  process.exit(0);
}

/** MusicXML documents of a folder, in order of their names. */
export const documentsIn = (path: string): string[] =>
  readdirSync(path)
    .filter((name) => /\.(xml|mxl|musicxml)$/.test(name))
    .sort()
    .map((name) => join(path, name));

/**
 * Documents that scores are read from: of the library's MusicXML test files, one feature each, those whose number is
 * followed by a, c or e; its `demos` folder; and the works. The others stay unseen.
 */
export function scoresOf(folder: string): string[] {
  const musicxml = join(folder, 'musicxml');
  const oneFeatureEach = readdirSync(musicxml).find((name) => name.endsWith('TestSuite')) ?? '';
  return [
    ...documentsIn(join(musicxml, oneFeatureEach)).filter((path) => /[/\\]\d+[ace][^/\\]*$/.test(path)),
    ...documentsIn(join(folder, 'corpus', 'demos')),
    ...WORKS.map((work) => join(folder, 'corpus', work)),
  ];
}

/** These documents as they are read, each with its name; what is no score is passed over. @param only a part of the paths */
export function* readScores(only: string): Generator<{ name: string; reading: ScoreReading }> {
  for (const file of scoresOf(corpusFolder()).filter((path) => path.includes(only)))
    try {
      yield { name: basename(file), reading: finished(readScore(new Uint8Array(readFileSync(file)), '1')) };
    } catch (error) {
      if (!(error instanceof BadSourceError)) throw error;
    }
}
