import type { Mend } from '../../model/mend';
import { BadSourceError } from '../refused';
import { type Division, type Smf, type SmfEvent, type SmfTrack, textKind } from './events';

/** Thrown when the bytes are not a Standard MIDI File at all; the message is one sentence for people. */
export class NotAnSmfError extends BadSourceError {
  override name = 'NotAnSmfError';
}

/** Files above this size are refused. */
export const MAX_SMF_BYTES = 50 * 1024 * 1024;
/** A damaged file could list a mend for every byte; past this many, they are only counted. */
const MAX_MENDS = 500;
const MAX_DELTA = 0x0fffffff;
const MTHD = 0x4d546864;
const MTRK = 0x4d54726b;

/**
 * Reads a Standard MIDI File (SMF 1.0, RP-001) of format 0, 1 or 2, also
 * inside a RIFF wrapper or behind leading bytes. Tolerant: whatever is wrong
 * but can be understood is mended and listed in `mends` with its byte offset.
 *
 * @param bytes the whole file
 * @throws NotAnSmfError when there is no MIDI header to be found, or the file is over 50 MB
 */
export function readSmf(bytes: Uint8Array): Smf {
  return new Reader(bytes).read();
}

class Reader {
  private readonly view: DataView;
  private readonly mends: Mend[] = [];
  private unlisted = 0;
  private track: number | undefined;
  private pos = 0;

  private readonly bytes: Uint8Array;

  constructor(bytes: Uint8Array) {
    // A plain view: a host's own byte type may not copy when it is sliced.
    this.bytes = new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  read(): Smf {
    const { bytes } = this;
    if (bytes.length === 0) throw new NotAnSmfError('The file is empty.');
    if (bytes.length > MAX_SMF_BYTES) throw new NotAnSmfError('The file is larger than 50 MB.');
    const start = this.findHeader();
    const { format, division, declaredTracks, end } = this.readHeader(start);
    const tracks: SmfTrack[] = [];
    const otherChunks: Smf['otherChunks'] = [];
    this.pos = end;
    while (this.pos < bytes.length) {
      if (bytes.length - this.pos < 8) {
        this.readTail(start);
        break;
      }
      const type = this.view.getUint32(this.pos);
      const length = this.view.getUint32(this.pos + 4);
      if (type === MTRK) {
        this.track = tracks.length;
        tracks.push(this.readTrack(this.pos + 8, length));
        this.track = undefined;
      } else if (this.looksLikeChunk(this.pos)) {
        const from = this.pos + 8;
        const to = Math.min(from + length, bytes.length);
        if (from + length > bytes.length)
          this.mend(this.pos, 'A chunk is longer than the file.', 'Kept what is there.');
        otherChunks.push({
          type: this.ascii(this.pos),
          bytes: bytes.slice(from, to),
          before: tracks.length,
        });
        this.pos = to;
      } else {
        const next = this.findTrackFrom(this.pos);
        this.mend(this.pos, `${next - this.pos} bytes between chunks are no MIDI data.`, 'Skipped them.');
        this.pos = next;
      }
    }
    if (tracks.length !== declaredTracks)
      this.mend(
        start + 10,
        `The header announces ${declaredTracks} tracks; the file holds ${tracks.length}.`,
        'Read those that are there.',
      );
    if (tracks.length === 0) throw new NotAnSmfError('The file has a MIDI header but no track.');
    if (this.unlisted > 0)
      this.mends.push({
        at: bytes.length,
        what: `${this.unlisted} more mends of the same kinds.`,
        done: 'Counted, not listed.',
      });
    return { format, division, tracks, otherChunks, mends: this.mends };
  }

  private mend(at: number, what: string, done: string): void {
    if (this.mends.length >= MAX_MENDS) {
      this.unlisted++;
      return;
    }
    this.mends.push(this.track === undefined ? { at, what, done } : { at, track: this.track, what, done });
  }

  private ascii(at: number): string {
    return String.fromCharCode(...this.bytes.subarray(at, at + 4));
  }

  private findHeader(): number {
    const { bytes, view } = this;
    const limit = Math.min(bytes.length - 14, 64 * 1024);
    for (let at = 0; at <= limit; at++) {
      if (view.getUint32(at) !== MTHD) continue;
      const riff = at >= 20 && this.ascii(0) === 'RIFF';
      if (at > 0 && !riff) this.mend(0, `${at} bytes stand before the MIDI header.`, 'Skipped them.');
      return at;
    }
    throw new NotAnSmfError('This is not a Standard MIDI File: it has no MIDI header.');
  }

  private readHeader(start: number): {
    format: 0 | 1 | 2;
    division: Division;
    declaredTracks: number;
    end: number;
  } {
    const { view } = this;
    const length = view.getUint32(start + 4);
    let format = view.getUint16(start + 8);
    const declaredTracks = view.getUint16(start + 10);
    const raw = view.getUint16(start + 12);
    if (format > 2) {
      this.mend(start + 8, `Format ${format} does not exist.`, 'Read as format 1.');
      format = 1;
    }
    let end = start + 8 + length;
    if (length < 6 || end > this.bytes.length || (length > 6 && !this.looksLikeChunk(end))) {
      this.mend(start + 4, `The header gives its length as ${length}.`, 'Read it as 6.');
      end = start + 14;
    }
    return { format: format as 0 | 1 | 2, division: this.readDivision(raw, start + 12), declaredTracks, end };
  }

  private readDivision(raw: number, at: number): Division {
    if (raw < 0x8000) {
      if (raw > 0) return { kind: 'quarter', ticks: raw };
      this.mend(at, 'The division is 0 ticks per quarter note.', 'Read as 480.');
      return { kind: 'quarter', ticks: 480 };
    }
    const frames = 256 - (raw >> 8);
    const ticksPerFrame = raw & 0xff;
    if ((frames === 24 || frames === 25 || frames === 29 || frames === 30) && ticksPerFrame > 0)
      return { kind: 'smpte', framesPerSecond: frames, ticksPerFrame };
    this.mend(
      at,
      `The time code division (${frames} frames, ${ticksPerFrame} ticks) does not exist.`,
      'Read as 25 frames of 40 ticks.',
    );
    return { kind: 'smpte', framesPerSecond: 25, ticksPerFrame: 40 };
  }

  /** Four printable characters and a length that stays in the file. */
  private looksLikeChunk(at: number): boolean {
    if (at === this.bytes.length) return true;
    if (at + 8 > this.bytes.length) return false;
    for (let i = at; i < at + 4; i++) {
      const byte = this.bytes[i]!;
      if (byte < 0x20 || byte > 0x7e) return false;
    }
    return this.view.getUint32(at) === MTRK || at + 8 + this.view.getUint32(at + 4) <= this.bytes.length;
  }

  private findTrackFrom(from: number): number {
    for (let at = from; at + 8 <= this.bytes.length; at++) if (this.view.getUint32(at) === MTRK) return at;
    return this.bytes.length;
  }

  private readTail(start: number): void {
    const rest = this.bytes.subarray(this.pos);
    // A RIFF wrapper pads its content to an even length.
    if (!(start > 0 && rest.length === 1) && rest.some((byte) => byte !== 0))
      this.mend(this.pos, `${rest.length} stray bytes end the file.`, 'Skipped them.');
    this.pos = this.bytes.length;
  }

  /**
   * Reads the events of one track. The declared length is trusted when a
   * chunk or the end of the file follows it; otherwise End of Track decides.
   */
  private readTrack(from: number, length: number): SmfTrack {
    const { bytes } = this;
    let end = from + length;
    if (end > bytes.length) {
      this.mend(
        from - 4,
        `The track is said to be ${length} bytes long; the file ends before.`,
        'Read to the end of the file.',
      );
      end = bytes.length;
    }
    const trusted = this.looksLikeChunk(end);
    const hardEnd = trusted ? end : bytes.length;
    const events: SmfEvent[] = [];
    let tick = 0;
    let running = 0;
    let ended = false;
    let runningAfterSystem = false;
    this.pos = from;
    while (this.pos < hardEnd) {
      if (
        !trusted &&
        this.pos >= end &&
        this.pos + 4 <= bytes.length &&
        this.view.getUint32(this.pos) === MTRK
      )
        break;
      if (ended) {
        if (!trusted) break;
        this.mend(this.pos, `${hardEnd - this.pos} bytes stand after the end of the track.`, 'Skipped them.');
        this.pos = hardEnd;
        break;
      }
      const eventStart = this.pos;
      const near = bytes[this.pos]!;
      if (near < 0x80) {
        tick += near;
        this.pos++;
      } else tick += this.readDelta(hardEnd);
      if (this.pos >= hardEnd) {
        this.mend(eventStart, 'The track breaks off after a time.', 'Closed the track there.');
        break;
      }
      let status = bytes[this.pos]!;
      if (status < 0x80) {
        if (running === 0) {
          this.skipStrayData(hardEnd);
          continue;
        }
        if (runningAfterSystem) {
          this.mend(
            this.pos,
            'Running status goes on after a meta or system event.',
            'Kept the status before it.',
          );
          runningAfterSystem = false;
        }
        status = running;
      } else {
        this.pos++;
      }
      if (status < 0xf0) {
        running = status;
        runningAfterSystem = false;
        const size = status >= 0xc0 && status < 0xe0 ? 1 : 2;
        if (this.pos + size > hardEnd) {
          this.mend(this.pos, 'The track breaks off inside an event.', 'Left that event out.');
          this.pos = hardEnd;
          break;
        }
        let first = bytes[this.pos++]!;
        if (first > 127) first = this.mendData(first);
        let second = size === 2 ? bytes[this.pos++]! : 0;
        if (second > 127) second = this.mendData(second);
        events.push(channelEvent(tick, status, first, second));
        continue;
      }
      runningAfterSystem = running !== 0;
      if (status === 0xff) {
        const kind = this.readMeta(events, tick, hardEnd);
        if (kind === 'cut') break;
        if (kind === 'end') ended = true;
      } else if (status === 0xf0 || status === 0xf7) {
        const data = this.readBlock(hardEnd, 'system exclusive message');
        events.push({ kind: status === 0xf0 ? 'sysex' : 'escape', tick, bytes: data });
      } else {
        // System common and real-time messages have no place in a file.
        const size = status === 0xf2 ? 2 : status === 0xf1 || status === 0xf3 ? 1 : 0;
        this.mend(this.pos - 1, `A message of status ${hex(status)} has no place in a file.`, 'Skipped it.');
        this.pos = Math.min(this.pos + size, hardEnd);
      }
    }
    if (!ended) {
      this.mend(this.pos, 'The track has no end-of-track event.', 'Ended it after its last event.');
      events.push({ kind: 'endOfTrack', tick });
    }
    if (!trusted && this.pos - from !== length)
      this.mend(
        from - 4,
        `The track gives its length as ${length}; it is ${this.pos - from}.`,
        'Read to its real end.',
      );
    return { events };
  }

  private readDelta(end: number): number {
    const start = this.pos;
    let value = 0;
    while (this.pos < end) {
      const byte = this.bytes[this.pos++]!;
      value = value * 128 + (byte & 0x7f);
      if (byte < 0x80) {
        if (value > MAX_DELTA || this.pos - start > 4) {
          this.mend(start, 'A time is longer than four bytes.', 'Cut it to the largest time allowed.');
          return Math.min(value, MAX_DELTA);
        }
        return value;
      }
      if (this.pos - start > 16) break;
    }
    return Math.min(value, MAX_DELTA);
  }

  /** Skips to the next status; the byte before it is taken as its time. */
  private skipStrayData(end: number): void {
    const start = this.pos;
    while (this.pos < end && this.bytes[this.pos]! < 0x80) this.pos++;
    if (this.pos < end && this.pos - start > 1) this.pos--;
    this.mend(start, `${this.pos - start} data bytes without a status.`, 'Skipped them.');
  }

  /** A data byte with its top bit set is cut to 127, as is usual for a stray velocity. */
  private mendData(value: number): number {
    this.mend(this.pos - 1, `A data byte has the value ${value}.`, 'Read as 127.');
    return 127;
  }

  private readBlock(end: number, name: string): Uint8Array {
    const at = this.pos;
    const length = this.readDelta(end);
    const stop = this.pos + length;
    if (stop > end) this.mend(at, `A ${name} is longer than its track.`, 'Kept what is there.');
    const data = this.bytes.slice(this.pos, Math.min(stop, end));
    this.pos = Math.min(stop, end);
    return data;
  }

  private readMeta(events: SmfEvent[], tick: number, end: number): 'event' | 'end' | 'cut' {
    if (this.pos >= end) {
      this.mend(this.pos, 'The track breaks off inside an event.', 'Left that event out.');
      return 'cut';
    }
    const at = this.pos;
    const type = this.bytes[this.pos++]!;
    const data = this.readBlock(end, 'meta event');
    if (type >= 0x01 && type <= 0x0f) {
      events.push({ kind: textKind(type), tick, type, bytes: data });
      return 'event';
    }
    if (type === 0x2f) {
      events.push({ kind: 'endOfTrack', tick });
      return 'end';
    }
    const event = metaOf(type, tick, data);
    if (typeof event === 'string') {
      this.mend(at, event, 'Kept it as an unknown event.');
      events.push({ kind: 'otherMeta', tick, type, bytes: data });
    } else events.push(event);
    return 'event';
  }
}

function channelEvent(tick: number, status: number, first: number, second: number): SmfEvent {
  const channel = status & 0x0f;
  switch (status >> 4) {
    case 0x9:
      return second > 0
        ? { kind: 'noteOn', tick, channel, key: first, velocity: second }
        : { kind: 'noteOff', tick, channel, key: first, velocity: 0, asNoteOn: true };
    case 0x8:
      return { kind: 'noteOff', tick, channel, key: first, velocity: second, asNoteOn: false };
    case 0xb:
      return { kind: 'control', tick, channel, controller: first, value: second };
    case 0xa:
      return { kind: 'keyPressure', tick, channel, key: first, pressure: second };
    case 0xc:
      return { kind: 'program', tick, channel, program: first };
    case 0xd:
      return { kind: 'channelPressure', tick, channel, pressure: first };
    default:
      return { kind: 'pitchBend', tick, channel, value: first + second * 128 };
  }
}

/** The event of a fixed-length meta type, or a sentence that says what is wrong with it. */
function metaOf(type: number, tick: number, data: Uint8Array): SmfEvent | string {
  const [a = 0, b = 0, c = 0, d = 0] = data;
  switch (type) {
    case 0x00:
      return { kind: 'sequenceNumber', tick, number: data.length >= 2 ? a * 256 + b : null };
    case 0x20:
      if (data.length < 1) return 'A channel prefix has no channel.';
      return { kind: 'channelPrefix', tick, channel: a & 0x0f };
    case 0x21:
      if (data.length < 1) return 'A port event has no port.';
      return { kind: 'port', tick, port: a };
    case 0x51: {
      if (data.length < 3) return `A tempo of ${data.length} bytes.`;
      const microsPerQuarter = a * 65536 + b * 256 + c;
      return microsPerQuarter > 0 ? { kind: 'tempo', tick, microsPerQuarter } : 'A tempo of 0.';
    }
    case 0x54:
      return data.length === 5
        ? { kind: 'smpteOffset', tick, bytes: data }
        : 'A SMPTE offset of a wrong length.';
    case 0x58:
      if (data.length < 2) return 'A time signature is cut short.';
      if (a === 0 || b > 6) return `A time signature of ${a} over 2^${b}.`;
      return {
        kind: 'timeSignature',
        tick,
        numerator: a,
        denominator: 2 ** b,
        clocks: data.length > 2 ? c : 24,
        thirtySeconds: data.length > 3 ? d : 8,
      };
    case 0x59: {
      const fifths = a > 127 ? a - 256 : a;
      if (data.length < 2 || Math.abs(fifths) > 7 || b > 1) return 'A key signature out of range.';
      return { kind: 'keySignature', tick, fifths, minor: b === 1 };
    }
    case 0x7f:
      return { kind: 'sequencerSpecific', tick, bytes: data };
    default:
      return { kind: 'otherMeta', tick, type, bytes: data };
  }
}

const hex = (byte: number): string => byte.toString(16).toUpperCase().padStart(2, '0');
