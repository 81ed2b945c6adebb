import type { Division, Smf, SmfEvent } from './events';

/** The longest time that four bytes can tell, which are the most that there may be (SMF 1.0). */
const LONGEST_WAIT = 0x0fffffff;
/** An empty text: what a longer wait is broken with. */
const NOTHING = [0xff, 0x01, 0];

/**
 * Writes a Standard MIDI File. Events keep their order within a tick; every
 * event gets its own status byte.
 *
 * @throws RangeError when a track's events do not go forward in time
 */
export function writeSmf(
  smf: Pick<Smf, 'format' | 'division' | 'tracks'> & Partial<Pick<Smf, 'otherChunks'>>,
): Uint8Array {
  const out = new Bytes();
  out.ascii('MThd');
  out.uint32(6);
  out.uint16(smf.format);
  out.uint16(smf.tracks.length);
  out.uint16(divisionWord(smf.division));
  const others = smf.otherChunks ?? [];
  for (let index = 0; index <= smf.tracks.length; index++) {
    for (const chunk of others)
      if (chunk.before === index) {
        out.ascii(chunk.type);
        out.uint32(chunk.bytes.length);
        out.append(chunk.bytes);
      }
    const track = smf.tracks[index];
    if (!track) continue;
    const body = new Bytes();
    let last = 0;
    for (const event of track.events) {
      if (event.tick < last) throw new RangeError(`Track ${index}: tick ${event.tick} comes after ${last}.`);
      for (let wait = event.tick - last; ; wait -= LONGEST_WAIT) {
        body.vlq(Math.min(wait, LONGEST_WAIT));
        if (wait <= LONGEST_WAIT) break;
        body.append(NOTHING);
      }
      last = event.tick;
      writeEvent(body, event);
    }
    if (track.events.at(-1)?.kind !== 'endOfTrack') {
      body.vlq(0);
      body.append([0xff, 0x2f, 0]);
    }
    out.ascii('MTrk');
    out.uint32(body.length);
    out.append(body.done());
  }
  return out.done();
}

function divisionWord(division: Division): number {
  return division.kind === 'quarter'
    ? division.ticks
    : ((256 - division.framesPerSecond) << 8) | division.ticksPerFrame;
}

function writeEvent(out: Bytes, event: SmfEvent): void {
  switch (event.kind) {
    case 'noteOn':
      return out.append([0x90 | event.channel, event.key, event.velocity]);
    case 'noteOff':
      return out.append([(event.asNoteOn ? 0x90 : 0x80) | event.channel, event.key, event.velocity]);
    case 'keyPressure':
      return out.append([0xa0 | event.channel, event.key, event.pressure]);
    case 'control':
      return out.append([0xb0 | event.channel, event.controller, event.value]);
    case 'program':
      return out.append([0xc0 | event.channel, event.program]);
    case 'channelPressure':
      return out.append([0xd0 | event.channel, event.pressure]);
    case 'pitchBend':
      return out.append([0xe0 | event.channel, event.value & 0x7f, event.value >> 7]);
    case 'sysex':
    case 'escape':
      out.append([event.kind === 'sysex' ? 0xf0 : 0xf7]);
      out.vlq(event.bytes.length);
      return out.append(event.bytes);
    case 'sequenceNumber':
      return out.meta(0x00, event.number === null ? [] : [event.number >> 8, event.number & 0xff]);
    case 'channelPrefix':
      return out.meta(0x20, [event.channel]);
    case 'port':
      return out.meta(0x21, [event.port]);
    case 'endOfTrack':
      return out.meta(0x2f, []);
    case 'tempo': {
      const value = event.microsPerQuarter;
      return out.meta(0x51, [(value >> 16) & 0xff, (value >> 8) & 0xff, value & 0xff]);
    }
    case 'smpteOffset':
      return out.meta(0x54, event.bytes);
    case 'timeSignature':
      return out.meta(0x58, [
        event.numerator,
        Math.log2(event.denominator),
        event.clocks,
        event.thirtySeconds,
      ]);
    case 'keySignature':
      return out.meta(0x59, [event.fifths & 0xff, event.minor ? 1 : 0]);
    case 'sequencerSpecific':
      return out.meta(0x7f, event.bytes);
    default:
      return out.meta(event.type, event.bytes);
  }
}

/** A byte buffer that grows. */
class Bytes {
  private buffer = new Uint8Array(1024);
  length = 0;

  private room(size: number): void {
    if (this.length + size <= this.buffer.length) return;
    const larger = new Uint8Array(Math.max(this.buffer.length * 2, this.length + size));
    larger.set(this.buffer.subarray(0, this.length));
    this.buffer = larger;
  }

  append(bytes: ArrayLike<number>): void {
    this.room(bytes.length);
    this.buffer.set(bytes, this.length);
    this.length += bytes.length;
  }

  ascii(text: string): void {
    this.append([...text].map((char) => char.charCodeAt(0) & 0xff));
  }

  uint16(value: number): void {
    this.append([(value >> 8) & 0xff, value & 0xff]);
  }

  uint32(value: number): void {
    this.append([value >>> 24, (value >> 16) & 0xff, (value >> 8) & 0xff, value & 0xff]);
  }

  /** A variable-length quantity. */
  vlq(value: number): void {
    const bytes = [value & 0x7f];
    for (let rest = Math.floor(value / 128); rest > 0; rest = Math.floor(rest / 128))
      bytes.unshift((rest & 0x7f) | 0x80);
    this.append(bytes);
  }

  meta(type: number, data: ArrayLike<number>): void {
    this.append([0xff, type]);
    this.vlq(data.length);
    this.append(data);
  }

  done(): Uint8Array {
    return this.buffer.slice(0, this.length);
  }
}
