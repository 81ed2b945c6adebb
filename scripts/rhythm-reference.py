"""Measures a reference library's own quantizer on the same performances.

Reads what `node scripts/bench.mjs rhythm-export` wrote, quantizes each track
with music21 (PyPI), `Stream.quantize` on quarter notes divided by 4 and 3 (its
default), and writes bench/rhythm/reference.json: percent of notes at exactly
the right position, and of exactly the right length there, for each level.
"""

import json
from fractions import Fraction
from pathlib import Path

from music21 import note, stream

ROOT = Path(__file__).parent.parent


def right(track):
    part = stream.Part()
    pairs = []
    for on, off, start, end in track:
        each = note.Note(60, quarterLength=max(1 / 480, off - on))
        part.insert(on, each)
        pairs.append((each, start, end))
    part.quantize((4, 3), processOffsets=True, processDurations=True, inPlace=True)
    positions = lengths = 0
    for each, start, end in pairs:
        near = lambda a, b: abs(Fraction(a) - Fraction(b)) < Fraction(1, 1000)
        if near(each.getOffsetBySite(part), start):
            positions += 1
            if near(each.quarterLength, end - start):
                lengths += 1
    return len(track), positions, lengths


def main():
    table = []
    for level in range(5):
        tracks = json.loads((ROOT / f".dragoman/rhythm/level-{level}.json").read_text())
        sums = [sum(column) for column in zip(*(right(track) for track in tracks))]
        notes, positions, lengths = sums
        table.append(
            {
                "level": level,
                "positions": round(100 * positions / notes, 2),
                "lengths": round(100 * lengths / notes, 2),
            }
        )
        print(table[-1])
    (ROOT / "bench/rhythm/reference.json").write_text(json.dumps(table, indent=2) + "\n")


if __name__ == "__main__":
    main()
