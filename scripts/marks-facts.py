"""Derives bench/marks.json: the marks of the works of works.json.

Source: the scores that ship with the Python library music21 (PyPI), the same
works as in scripts/rhythm-facts.py and no others.

    pip install music21 && python3 scripts/marks-facts.py

For each work and staff: dynamics as [quarter, text], hairpins as [quarter,
quarter, 1 for opening, -1 for closing], slurs as [first quarter, last quarter],
and a digit a note in the order of works.json: 1 staccato, 2 accent, 3 both, 0 none.
"""

import importlib.util
import json
from pathlib import Path

from music21 import articulations, corpus, dynamics, spanner

here = Path(__file__).resolve()
spec = importlib.util.spec_from_file_location("facts", here.parent / "rhythm-facts.py")
facts = importlib.util.module_from_spec(spec)
spec.loader.exec_module(facts)


def place(part, element):
    return round(float(element.getOffsetInHierarchy(part)), 4)


def touch(part):
    """Which notes are staccato or accented, by start and key."""
    found = {}
    for each in part.recurse().notes:
        own = 0
        for mark in each.articulations:
            own |= 1 if isinstance(mark, articulations.Staccato) else 0
            own |= 2 if isinstance(mark, articulations.Accent) else 0
        if own:
            for pitch in each.pitches:
                found[(place(part, each), pitch.midi)] = own
    return found


def staff(part, score):
    notes, _ = facts.staff_notes(part)
    if not notes:
        return None
    marked = touch(part)
    wedges, slurs = [], []
    for each in part.recurse().getElementsByClass(dynamics.DynamicWedge):
        spanned = each.getSpannedElements()
        if spanned:
            kind = 1 if isinstance(each, dynamics.Crescendo) else -1
            last = spanned[-1]
            wedges.append([place(score, spanned[0]), round(place(score, last) + float(last.quarterLength), 4), kind])
    for each in part.recurse().getElementsByClass(spanner.Slur):
        spanned = [one for one in each.getSpannedElements() if one.isNote or one.isChord]
        if len(spanned) > 1 and not spanned[0].duration.isGrace:
            slurs.append([place(score, spanned[0]), place(score, spanned[-1])])
    return {
        "dynamics": [[place(part, each), each.value] for each in part.recurse().getElementsByClass(dynamics.Dynamic)],
        "hairpins": wedges,
        "slurs": slurs,
        "touch": "".join(str(marked.get((round(float(row[0]), 4), row[2]), 0)) for row in notes),
    }


out = {}
for name in facts.CHORALES + facts.QUARTETS + facts.PIANO_AND_SONG:
    score = corpus.parse(name)
    out[name] = [each for each in (staff(part, score) for part in score.parts) if each]
    print(name, [(len(each["dynamics"]), len(each["hairpins"]), len(each["slurs"])) for each in out[name]])
lines = ",\n".join(f"{json.dumps(name)}: {json.dumps(each, separators=(',', ':'))}" for name, each in out.items())
(here.parent.parent / "bench" / "marks.json").write_text(f"{{\n{lines}\n}}\n")
