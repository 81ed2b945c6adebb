"""Derives bench/spelling.json: how the notes of the works of works.json are spelled.

Sources: the scores that ship with the Python library music21 (PyPI), the same
works as in scripts/rhythm-facts.py and no others; and for comparison the ps13s1
method of Meredith (2006) as the Python library partitura (PyPI) has it.

    pip install music21 partitura && python3 scripts/spelling-facts.py

For each work and staff two strings, a letter a note in the order of works.json:
its place on the line of fifths, of which A is -15 (F is then N, C O, G P).
"""

import importlib.util
import json
from pathlib import Path

import numpy
from music21 import corpus, stream
from partitura.musicanalysis import estimate_spelling

here = Path(__file__).resolve()
spec = importlib.util.spec_from_file_location("facts", here.parent / "rhythm-facts.py")
facts = importlib.util.module_from_spec(spec)
spec.loader.exec_module(facts)

STEPS = {"F": -1, "C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5}


def letter(step, alter):
    return chr(ord("A") + 15 + STEPS[step] + 7 * int(alter))


def spelled(name):
    score = corpus.parse(name)
    staves = []
    for part in score.parts:
        notes, _ = facts.staff_notes(part)
        if notes:
            staves.append(notes)
    rows = [(float(row[0]), float(row[1]) or 0.05, row[2]) for notes in staves for row in notes]
    array = numpy.array(rows, dtype=[("onset_beat", "f4"), ("duration_beat", "f4"), ("pitch", "i4")])
    other = [letter(each["step"], each["alter"]) for each in estimate_spelling(array)]
    truth, ps13, at = [], [], 0
    for notes in staves:
        truth.append("".join(letter(row[6].step, row[6].alter) for row in notes))
        ps13.append("".join(other[at : at + len(notes)]))
        at += len(notes)
    return {"truth": truth, "ps13": ps13}


out = {}
for name in facts.CHORALES + facts.QUARTETS + facts.PIANO_AND_SONG:
    out[name] = spelled(name)
    pairs = [(a, b) for one, two in zip(out[name]["truth"], out[name]["ps13"]) for a, b in zip(one, two)]
    print(name, len(pairs), round(100 * sum(a == b for a, b in pairs) / len(pairs), 2))
lines = ",\n".join(f"{json.dumps(name)}: {json.dumps(each)}" for name, each in out.items())
(here.parent.parent / "bench" / "spelling.json").write_text(f"{{\n{lines}\n}}\n")
