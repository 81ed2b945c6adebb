/** A short piece for two hands as a Standard MIDI File: chords of whole notes below quarters and eighths, at 100 a minute. */
export function sketch() {
  const chords = [
    [48, 52, 55],
    [45, 52, 57],
    [41, 48, 57],
    [43, 50, 55],
  ];
  const tune = [72, 74, 76, 79, 77, 76, 74, 72, 71, 72, 74, 76, 74, 71, 67, 72];
  const events = [];
  const note = (at, length, key) => events.push([at, 0x90, key, 84], [at + length, 0x80, key, 64]);
  for (let bar = 0; bar < 8; bar++) {
    for (const key of chords[bar % 4]) note(bar * 1920, 1860, key);
    for (let beat = 0; beat < 4; beat++) {
      const at = bar * 1920 + beat * 480;
      const first = (bar * 4 + beat) % 16;
      if ((bar + beat) % 3 === 2)
        for (const half of [0, 1]) note(at + half * 240, 210, tune[(first + half) % 16]);
      else note(at, 440, tune[first]);
    }
  }
  events.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const varying = (value) => (value < 128 ? [value] : [0x80 | (value >> 7), value & 127]);
  let before = 0;
  const body = [0, 0xff, 0x51, 3, 0x09, 0x27, 0xc0];
  for (const [at, ...message] of events) {
    body.push(...varying(at - before), ...message);
    before = at;
  }
  body.push(0, 0xff, 0x2f, 0);
  const head = Buffer.from([0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 480 >> 8, 480 & 255]);
  const track = Buffer.from([0x4d, 0x54, 0x72, 0x6b, 0, 0, body.length >> 8, body.length & 255]);
  return Buffer.concat([head, track, Buffer.from(body)]);
}
