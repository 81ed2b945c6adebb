"""Derives tests/conformance/note-measures.json: what a reference library counts as found.

Source: mir_eval (PyPI), `transcription.match_notes`, over made lists of notes (seeded), so that
the measures of the tests and benchmarks can be held against it.

    pip install mir_eval && python3 scripts/note-measures-facts.py

Each case: the truth and what was heard as [on, off, key], and how many notes are matched by onset and key
(within 50 ms and half a semitone), and with offsets (50 ms or a fifth of the length).
"""

import json
import random

import mir_eval
import numpy as np

random.seed(7)


def made():
    truth, heard = [], []
    at = 0.1
    for _ in range(random.randint(5, 40)):
        length = random.choice([0.1, 0.2, 0.4, 0.8])
        key = random.choice([60, 60, 62, 64, 65])
        truth.append([round(at, 3), round(at + length * 0.9, 3), key])
        at += length * random.choice([0.3, 1, 1])
    for on, off, key in truth:
        chance = random.random()
        if chance < 0.1:
            continue
        heard.append(
            [
                round(on + random.gauss(0, 0.03), 3),
                round(off + random.gauss(0, 0.06), 3),
                key + (12 if chance < 0.15 else 0),
            ]
        )
        if chance > 0.93:
            heard.append([round(on + 0.02, 3), round(off + 0.01, 3), key])
    heard = [note for note in heard if note[1] > note[0] + 0.01]
    return sorted(truth), sorted(heard)


def matched(truth, heard, ratio):
    def split(notes):
        array = np.array(notes, dtype=float)
        return array[:, :2], 440 * 2 ** ((array[:, 2] - 69) / 12)

    return len(mir_eval.transcription.match_notes(*split(truth), *split(heard), offset_ratio=ratio))


cases = []
for _ in range(40):
    truth, heard = made()
    if heard:
        cases.append(
            {
                "truth": truth,
                "heard": heard,
                "onset": matched(truth, heard, None),
                "both": matched(truth, heard, 0.2),
            }
        )
with open("tests/conformance/note-measures.json", "w", encoding="utf-8") as out:
    json.dump({"source": f"mir_eval {mir_eval.__version__}", "cases": cases}, out, separators=(",", ":"))
    out.write("\n")
