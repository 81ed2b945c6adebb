"""Derives bench/form.json: the bars of works with printed repeats, and the order in which they are played.

Source: the scores that ship with the Python library music21 (PyPI), the same
works as in scripts/rhythm-facts.py and no others, and its own expansion of
repeats, endings, D.C. and D.S. (repeat.Expander).

    pip install music21 && python3 scripts/form-facts.py

For each work: `kinds`, a number for each printed bar, the same for bars with the same notes in
all staves; `sounds`, a digit a bar; `order`, the printed bars as they are played.
"""

import importlib.util
import json
from pathlib import Path

from music21 import bar, corpus, repeat, stream

here = Path(__file__).resolve()
spec = importlib.util.spec_from_file_location("facts", here.parent / "rhythm-facts.py")
facts = importlib.util.module_from_spec(spec)
spec.loader.exec_module(facts)


def text(measure):
    return "|".join(
        f"{round(float(each.getOffsetInHierarchy(measure)), 4)} {round(float(each.quarterLength), 4)} "
        f"{each.duration.isGrace} {[p.nameWithOctave for p in each.pitches]} {each.tie.type if each.tie else ''}"
        for each in measure.recurse().notes
    ) + f" {measure.barDuration.quarterLength} {measure.duration.quarterLength}"


def signs(part):
    lines = part.recurse().getElementsByClass(bar.Repeat)
    jumps = part.recurse().getElementsByClass(repeat.RepeatExpressionCommand)
    return len(lines) + len(jumps)


out = {}
for name in facts.CHORALES + facts.QUARTETS + facts.PIANO_AND_SONG:
    score = corpus.parse(name)
    first = score.parts[0]
    if not signs(first):
        continue
    lists = [list(part.getElementsByClass(stream.Measure)) for part in score.parts]
    count = len(lists[0])
    if any(len(each) != count for each in lists):
        print(name, "left out: staves of unequal length")
        continue
    for index, measure in enumerate(lists[0]):
        measure.editorial.place = index
    expander = repeat.Expander(first)
    if not expander.isExpandable():
        print(name, "left out: not expandable")
        continue
    order = [measure.editorial.place for measure in expander.process().getElementsByClass(stream.Measure)]
    known = {}
    kinds = [known.setdefault(" / ".join(text(each[at]) for each in lists), len(known)) for at in range(count)]
    sounds = "".join("1" if any(each[at].recurse().notes for each in lists) else "0" for at in range(count))
    out[name] = {"kinds": kinds, "sounds": sounds, "order": order}
    print(name, count, len(order))
lines = ",\n".join(f"{json.dumps(name)}: {json.dumps(each, separators=(',', ':'))}" for name, each in out.items())
(here.parent.parent / "bench" / "form.json").write_text(f"{{\n{lines}\n}}\n")
