/** Time code rates: whole frames a second, and 29.97 with dropped frame numbers. */
export const RATES = ['24', '25', '29.97 drop', '30'] as const;
export type Rate = (typeof RATES)[number];

/** Real frames a second. */
const framesPerSecond = (rate: Rate): number => (rate === '29.97 drop' ? 30_000 / 1001 : Number(rate));

/**
 * The time code of a moment, as hh:mm:ss:ff, with a semicolon before the
 * frames for drop frame. Drop frame leaves out the *numbers* 00 and 01 at the
 * start of each minute but every tenth, so that the count keeps step with the
 * clock (SMPTE ST 12-1, drop frame compensated mode). The frame is the one
 * that is running at that moment; the count begins again after 24 hours.
 *
 * @param seconds from the start of the piece, 0 or more
 * @param startFrames frame count at which the piece starts
 */
export function timeCode(seconds: number, rate: Rate, startFrames = 0): string {
  // A hair forward, so that a moment computed as 0.99999… frames is the frame it means.
  const frames = startFrames + Math.floor(seconds * framesPerSecond(rate) + 1e-6);
  return codeOfFrames(frames, rate);
}

/** The time code of a frame counted from midnight. */
export function codeOfFrames(frames: number, rate: Rate): string {
  const isDrop = rate === '29.97 drop';
  const nominal = isDrop ? 30 : Number(rate);
  const numbered = isDrop ? withDroppedNumbers(frames) : frames;
  const pair = (value: number) => String(value).padStart(2, '0');
  const seconds = Math.floor(numbered / nominal);
  const clock = [Math.floor(seconds / 3600) % 24, Math.floor(seconds / 60) % 60, seconds % 60];
  return `${clock.map(pair).join(':')}${isDrop ? ';' : ':'}${pair(numbered % nominal)}`;
}

const FRAMES_IN_TEN_MINUTES = 17_982;
const FRAMES_IN_DROPPED_MINUTE = 1798;

function withDroppedNumbers(frames: number): number {
  const tens = Math.floor(frames / FRAMES_IN_TEN_MINUTES);
  const rest = frames % FRAMES_IN_TEN_MINUTES;
  const minutes = rest < 1800 ? 0 : 1 + Math.floor((rest - 1800) / FRAMES_IN_DROPPED_MINUTE);
  return frames + 18 * tens + 2 * minutes;
}

/**
 * The frame count of a time code such as 10:00:00:00 (or with `;`); null for
 * text that is no time code, or for a number that drop frame leaves out.
 */
export function framesOfCode(code: string, rate: Rate): number | null {
  const match = /^(\d{2}):(\d{2}):(\d{2})[:;](\d{2})$/.exec(code.trim());
  if (!match) return null;
  const [hours, minutes, seconds, frames] = match.slice(1).map(Number) as [number, number, number, number];
  const isDrop = rate === '29.97 drop';
  const nominal = isDrop ? 30 : Number(rate);
  if (hours > 23 || minutes > 59 || seconds > 59 || frames >= nominal) return null;
  if (isDrop && seconds === 0 && frames < 2 && minutes % 10 !== 0) return null;
  const all = (hours * 3600 + minutes * 60 + seconds) * nominal + frames;
  const passed = hours * 60 + minutes;
  return isDrop ? all - 2 * (passed - Math.floor(passed / 10)) : all;
}
