"""Derives bench/rhythm/works.json and more.json: the notes of public-domain works as bare numbers.

Source: the scores of music from before 1926 that ship with the Python library
music21 (PyPI). Only these works are used, so that the others stay untouched
for later judgement: the chorales BWV 253-300, two quartet movements, and the
piano and song works of composers whose names begin with A-M (without one
fantasia whose lengths are stored rounded, so that its truth is not exact).

    pip install music21 && python3 scripts/rhythm-facts.py

`more.json` has works of other folders, for players that differ: dance tunes,
folk songs, madrigals and masses, a trio sonata. They are listed alternately in
two halves, folder by folder; only the even half is tuned on.

For each work: bars as [start, numerator, denominator], and for each part its
staves as flat lists of notes: start after the note before, length, MIDI key,
and flags (voice, +4 for a grace note, +8 for a note in a tuplet). Times are in
units of 1/`unit` quarter notes. `symbols` counts the written notes, chords and
rests of each part.
"""

import json
from fractions import Fraction
from math import lcm
from pathlib import Path

from music21 import chord, converter, corpus, note, stream

CHORALES = [f"bach/bwv{number}" for number in range(253, 301)]
QUARTETS = ["beethoven/opus18no1/movement4", "mozart/k458/movement3"]
PIANO_AND_SONG = [
    "beach/prayer_of_a_tired_child",
    "chopin/mazurka06-2",
    "johnson_j_r/lift_every_voice",
    "joplin/maple_leaf_rag",
    "liliuokalani/aloha_oe",
    "mozart/k545/movement1_exposition",
]
# Tempos that the scores do not state or state badly, in quarter notes a minute (common practice).
TEMPOS = {"beethoven/opus18no1/movement4": 104, "mozart/k458/movement3": 44, "chopin/mazurka06-2": 140}
CHORALE_TEMPO = 84
# Scores that keep the two staves of one keyboard part as two parts.
KEYBOARD = ["chopin/mazurka06-2"]

# Folders of other works: a few of each, by their places in the folder or file, chosen without a look.
TUNES = {
    "airdsAirs/book1.abc": range(0, 200, 10),
    "essenFolksong/altdeu10.abc": range(0, 60, 6),
    "essenFolksong/ballad10.abc": range(0, 60, 6),
    "nottingham-dataset/reelsa-c.abc": range(0, 2),
    "oneills1850/0001-0050.abc": range(0, 50, 5),
    "oneills1850/0051-0100.abc": range(0, 50, 5),
}
DANCES = ("ryansMammoth", range(0, 1000, 50))
MASSES = ("palestrina", range(0, 1300, 100))
ALONE = ["corelli/opus3no1/1grave", "ciconia/quod_jactatur"]


def exact(value):
    return Fraction(value).limit_denominator(10080)


def height(voice):
    """Mean key of a voice; without notes it is the lowest."""
    keys = [pitch.midi for each in voice.notes for pitch in each.pitches]
    return sum(keys) / len(keys) if keys else 0


def staff_notes(staff):
    """All notes of a staff, ties joined: [start, length, key, voice, grace, tuplet, pitch]."""
    found, open_ties, symbols = [], {}, 0
    for measure in staff.getElementsByClass(stream.Measure):
        voices = sorted(measure.voices, key=height, reverse=True) or [measure]
        for rank, voice in enumerate(voices, 1):
            for each in voice.notesAndRests:
                hidden = getattr(each.style, "hideObjectOnPrint", False)
                if "ChordSymbol" in each.classes or hidden:
                    continue
                if not each.duration.isGrace:
                    symbols += 1
                if each.isRest:
                    continue
                start = exact(measure.offset) + exact(each.offset)
                if voice is not measure:
                    start += exact(voice.offset)
                length = Fraction(0) if each.duration.isGrace else exact(each.quarterLength)
                for single in each.notes if isinstance(each, chord.Chord) else [each]:
                    if not isinstance(single, note.Note):
                        continue
                    tie = single.tie.type if single.tie else (each.tie.type if each.tie else None)
                    key = single.pitch.midi
                    held = open_ties.get(key)
                    if tie in ("stop", "continue") and held and held[0] + held[1] == start:
                        held[1] += length
                        held[5] = held[5] or bool(each.duration.tuplets)
                        if tie == "stop":
                            del open_ties[key]
                        continue
                    row = [start, length, key, min(rank, 3), each.duration.isGrace, bool(each.duration.tuplets), single.pitch]
                    found.append(row)
                    if tie in ("start", "continue"):
                        open_ties[key] = row
    found.sort(key=lambda row: (row[0], not row[4], row[2]))
    return found, symbols


def bars_of(staff):
    bars, meter = [], None
    for measure in staff.getElementsByClass(stream.Measure):
        meter = measure.timeSignature or meter
        length = exact(measure.barDuration.quarterLength) if meter is None else exact(meter.barDuration.quarterLength)
        bars.append([exact(measure.offset), meter.numerator, meter.denominator, length])
    return bars


def work(name, score=None):
    score = score or corpus.parse(name)
    groups = {}
    for part in score.parts:
        is_staff = isinstance(part, stream.PartStaff) or name in KEYBOARD
        label = (part.partName or "").strip()
        groups.setdefault(("staff", label) if is_staff else ("part", len(groups)), []).append(part)
    parts, units = [], 1
    bars = bars_of(score.parts[0])
    for start, *_rest in bars:
        units = lcm(units, start.denominator)
    for staves in groups.values():
        read = [staff_notes(staff) for staff in staves]
        for notes, _ in read:
            for row in notes:
                units = lcm(units, row[0].denominator, row[1].denominator)
        parts.append((staves[0].partName or "Voice", read))
    out_parts = []
    for label, read in parts:
        rows = []
        for notes, _ in read:
            flat, before = [], Fraction(0)
            for start, length, key, voice, grace, tuplet, _pitch in notes:
                flat += [int((start - before) * units), int(length * units), key, voice + 4 * grace + 8 * tuplet]
                before = start
            rows.append(flat)
        if any(rows):
            out_parts.append({"name": "Piano" if len(rows) == 2 else label, "staves": rows, "symbols": sum(count for _, count in read)})
    # A bar that is shorter than its meter at the start is an upbeat; elsewhere it is as long as it is.
    last = exact(score.parts[0].duration.quarterLength)
    ends = [bar[0] for bar in bars[1:]] + [max(last, bars[-1][0] + bars[-1][3] if len(bars) == 1 else last)]
    out_bars = [
        [int(bar[0] * units), bar[1], bar[2], int((end - bar[0]) * units)] for bar, end in zip(bars, ends)
    ]
    tempo = TEMPOS.get(name, CHORALE_TEMPO if name in CHORALES else None)
    marked = [mark.getQuarterBPM() for mark in score.recurse().getElementsByClass("MetronomeMark")]
    return {
        "name": name,
        "tempo": tempo or next((round(bpm) for bpm in marked if bpm), 108),
        "unit": units,
        "bars": out_bars,
        "parts": out_parts,
    }


def told(made):
    count = sum(len(staff) // 4 for part in made["parts"] for staff in part["staves"])
    print(f"{made['name']}: {len(made['parts'])} parts, {len(made['bars'])} bars, {count} notes, unit {made['unit']}, tempo {made['tempo']}")


def tried(name, score=None):
    """A work; None for one that the library cannot read, that has no bars, or two parts of other lengths: said and left out."""
    try:
        made = work(name, score)
        if len(made["bars"]) < 4 or not made["parts"] or made["unit"] > 10080:
            raise ValueError("too little, or no bars")
        if any(bar[3] <= 0 for bar in made["bars"]):
            raise ValueError("a bar without a length")
    except Exception as error:
        print(f"{name}: {error}")
        return None
    told(made)
    return made


def more():
    """Works of other folders, in a fixed order."""
    for path, places in TUNES.items():
        scores = list(corpus.parse(path).scores)
        for place in places:
            if place < len(scores):
                yield tried(f"{path.removesuffix('.abc')}/{place}", scores[place])
    root = Path(corpus.getWork(ALONE[0])).parents[2]
    for folder, places in (DANCES, MASSES):
        files = sorted(each.name for each in (root / folder).iterdir() if each.suffix in (".abc", ".krn"))
        for place in places:
            if place < len(files):
                yield tried(f"{folder}/{files[place]}")
    for name in ALONE:
        yield tried(name)


def written(works, name):
    lines = ",\n".join(json.dumps(each, separators=(",", ":")) for each in works)
    Path(__file__).parent.parent.joinpath(f"bench/rhythm/{name}.json").write_text(f"[\n{lines}\n]\n")


def main():
    works = [made for name in CHORALES + QUARTETS + PIANO_AND_SONG if (made := tried(name))]
    written(works, "works")
    written([made for made in more() if made], "more")


if __name__ == "__main__":
    main()
