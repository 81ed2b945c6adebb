#!/usr/bin/env python3
"""Writes tests/conformance/general-midi.json: the names of the General MIDI
Level 1 programs and percussion keys, as the PyPI package `pretty_midi` 0.2.11
has them (a general-purpose library; the names are those of the standard).

Usage: python3 scripts/general-midi-facts.py
"""
import json
import pathlib

import pretty_midi

FIRST_DRUM_KEY = 35
facts = {
    "programs": list(pretty_midi.INSTRUMENT_MAP),
    "percussion": {
        str(FIRST_DRUM_KEY + index): name
        for index, name in enumerate(pretty_midi.DRUM_MAP)
    },
}
target = pathlib.Path(__file__).parent.parent / "tests/conformance/general-midi.json"
target.write_text(json.dumps(facts, indent=1, ensure_ascii=False) + "\n")
