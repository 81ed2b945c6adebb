"""Makes the compressed recordings of the tests: python3 scripts/sound-fixtures.py

Four tones of our own (C5, D5, E5, F5, 0.4 s each, six partials) by the reference library soundfile 0.14 (libsndfile),
as WAV files are made in the tests themselves.
"""
from pathlib import Path

import numpy as np
import soundfile

RATE = 22050
FOLDER = Path(__file__).parent.parent / "tests" / "fixtures" / "sounds"

time = np.arange(int(0.36 * RATE)) / RATE
edge = np.minimum(1, np.minimum(time, time[::-1]) / 0.02)
sound = [np.zeros(int(0.2 * RATE))]
for key in (72, 74, 76, 77):
    hertz = 440 * 2 ** ((key - 69) / 12)
    tone = sum(np.sin(2 * np.pi * hertz * partial * time) / 2**partial for partial in range(1, 7))
    sound += [0.3 * edge * tone, np.zeros(int(0.04 * RATE))]
sound.append(np.zeros(int(0.3 * RATE)))
samples = np.concatenate(sound)
FOLDER.mkdir(parents=True, exist_ok=True)
soundfile.write(FOLDER / "tones.flac", samples, RATE, subtype="PCM_16")
soundfile.write(FOLDER / "tones.ogg", samples, RATE, format="OGG", subtype="VORBIS")
soundfile.write(FOLDER / "tones.mp3", samples, RATE, format="MP3", subtype="MPEG_LAYER_III")
# Opus knows 48,000 samples a second, among few others.
at48 = np.interp(np.arange(int(len(samples) * 48000 / RATE)) * RATE / 48000, np.arange(len(samples)), samples)
soundfile.write(FOLDER / "tones.opus", at48, 48000, format="OGG", subtype="OPUS")
