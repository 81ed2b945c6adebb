"""Derives bench/keys.json: the key signatures of the works of works.json.

Source: the scores that ship with the Python library music21 (PyPI), the same
works as in scripts/rhythm-facts.py and no others.

    pip install music21 && python3 scripts/key-facts.py

For each work: its signatures in concert pitch as [start in quarter notes, fifths].
"""

import importlib.util
import json
from pathlib import Path

from music21 import corpus, key, stream

here = Path(__file__).resolve()
spec = importlib.util.spec_from_file_location("facts", here.parent / "rhythm-facts.py")
facts = importlib.util.module_from_spec(spec)
spec.loader.exec_module(facts)


def signatures(name):
    score = corpus.parse(name).toSoundingPitch()
    part = score.parts[0]
    found = []
    for measure in part.getElementsByClass(stream.Measure):
        for each in measure.getElementsByClass(key.KeySignature):
            place = float(measure.offset) + float(each.offset)
            if not found or found[-1][1] != each.sharps:
                found.append([place, each.sharps])
    return found


names = facts.CHORALES + facts.QUARTETS + facts.PIANO_AND_SONG
out = {name: signatures(name) for name in names}
(here.parent.parent / "bench" / "keys.json").write_text(json.dumps(out) + "\n")
