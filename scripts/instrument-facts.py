#!/usr/bin/env python3
"""Facts of music21's instruments, to check the catalogue against: python scripts/instrument-facts.py

Needs music21 (PyPI). Writes tests/conformance/instruments-music21.json: name,
standard sound, and how far each sounds from what is written, in staff steps
and semitones.
"""
import inspect
import json

import music21
from music21 import instrument

facts = []
for _, kind in inspect.getmembers(instrument, inspect.isclass):
    if not issubclass(kind, instrument.Instrument):
        continue
    try:
        one = kind()
    except Exception:
        continue
    moved = one.transposition
    if one.instrumentName and moved:
        steps = moved.diatonic.generic.directed
        facts.append(
            {
                "name": one.instrumentName,
                "sound": one.instrumentSound,
                "diatonic": steps - 1 if steps > 0 else steps + 1,
                "chromatic": int(moved.chromatic.semitones),
            }
        )
with open("tests/conformance/instruments-music21.json", "w", encoding="utf8") as out:
    json.dump({"source": f"music21 {music21.__version__}, instrument.py", "instruments": facts}, out, indent=1)
    out.write("\n")
