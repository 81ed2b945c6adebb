import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { madeFile, madeTrack, type Stroke } from '../../../tests/helpers/made-file';
import { finished } from '../basics/steps';
import { EMPTY_BRIEF } from '../decisions/brief';
import { DEFAULT_HAND_OVER, type HandOverChoice } from '../decisions/kinds/hand-over';
import { readSmf } from '../sources/smf/read';
import { writeSmf } from '../sources/smf/write';
import { Workbench } from '../workbench/workbench';
import { deliverMidi, isZip, needsScore, previewMidi } from '.';

/** Eight bars: quarters from C5 up for the right hand, whole notes from C3 for the left; a flute beside it. */
const right = Array.from({ length: 32 }, (_, at): Stroke => [at * 480, at * 480 + 440, 72 + (at % 5)]);
const left = Array.from({ length: 8 }, (_, at): Stroke => [at * 1920, at * 1920 + 1880, 48 - (at % 3)]);
const flute = Array.from({ length: 16 }, (_, at): Stroke => [at * 960, at * 960 + 900, 79]);
const bytes = writeSmf(
  madeFile(
    madeTrack('Piano', 0, [...right, ...left], [{ kind: 'tempo', tick: 0, microsPerQuarter: 600_000 }]),
    madeTrack('Flute', 1, flute),
  ),
);

function delivered(some: Partial<HandOverChoice>): {
  choice: HandOverChoice;
  bytes: Uint8Array;
  said: string[];
} {
  const bench = new Workbench([{ id: '1', version: 1, name: 'two hands.mid', bytes }]);
  const { desk } = bench.layOut(1, EMPTY_BRIEF);
  const { transcription } = finished(bench.write(1));
  const choice = { ...DEFAULT_HAND_OVER, ...some };
  return {
    choice,
    bytes: deliverMidi(desk, choice, transcription),
    said: previewMidi(desk, choice).remarks,
  };
}

const tracksIn = (file: Uint8Array) =>
  readSmf(file)
    .tracks.map(({ events }) => ({
      name: events.flatMap((event) =>
        event.kind === 'trackName' ? [new TextDecoder().decode(event.bytes)] : [],
      )[0],
      keys: events.flatMap((event) => (event.kind === 'noteOn' ? [event.key] : [])),
    }))
    .filter(({ keys }) => keys.length > 0);

describe('hands', () => {
  it('have a track each where they are asked for, and one player has one as before', () => {
    const { choice, bytes: file, said } = delivered({ form: 'plain', apart: ['hands'] });
    expect(needsScore(choice)).toBe(true);
    const [three, one, two] = tracksIn(file);
    expect([one!.name, two!.name, three!.name]).toEqual(['Piano (right hand)', 'Piano (left hand)', 'Flute']);
    expect(one!.keys).toEqual(right.map(([, , key]) => key));
    expect(two!.keys).toEqual(left.map(([, , key]) => key));
    expect(three!.keys).toHaveLength(flute.length);
    expect(said).toContain('Parts on two staves have a track for each hand, as the score has them.');
  });

  it('stand in files of their own where every track does', () => {
    const { choice, bytes: zip } = delivered({ form: 'plain', apart: ['hands'], files: 'each' });
    expect(isZip(choice)).toBe(true);
    const files = unzipSync(zip);
    expect(Object.keys(files)).toHaveLength(3);
    const keys = Object.values(files).map((file) => tracksIn(file).map((track) => track.keys.length));
    expect(keys).toEqual([[16], [32], [8]]);
    for (const file of Object.values(files)) {
      // Each has the clock.
      const [clock] = readSmf(file).tracks;
      expect(clock!.events.some(({ kind }) => kind === 'tempo')).toBe(true);
    }
  });

  it('are one track, and all one file, as long as nothing is asked', () => {
    const { choice, bytes: file } = delivered({ form: 'plain' });
    expect(isZip(choice)).toBe(false);
    expect(tracksIn(file).map(({ name }) => name)).toEqual(['Flute', 'Piano']);
  });
});
