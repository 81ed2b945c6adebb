/**
 * Writes what the players of `npm run bench:rhythm` play, for scripts/rhythm-reference.py:
 * `node scripts/bench.mjs rhythm-export`. For each level a file in .dragoman/rhythm with a list of
 * tracks, each a list of [onset, release, true start, true end], in quarter notes; graces left out.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { QUARTER } from '../src/core/model/time';
import { LEVELS, perform } from './rhythm/perform';
import { loadWorks } from './rhythm/works';

const works = loadWorks().filter((_, index) => index % 2 === 1);
mkdirSync('.dragoman/rhythm', { recursive: true });
for (const level of LEVELS) {
  const tracks = works.flatMap((work) =>
    perform(work, level, 1).tracks.map((track) =>
      track.notes
        .filter(({ truth }) => !truth.grace)
        .map(({ on, off, truth }) => [on / 480, off / 480, truth.start / QUARTER, truth.end / QUARTER]),
    ),
  );
  writeFileSync(`.dragoman/rhythm/level-${level}.json`, JSON.stringify(tracks));
}
