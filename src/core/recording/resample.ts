import type { Sound } from './sound';

/** Zeros of the sinc on either side, and places between two samples for which it is worked out. */
const ZEROS = 16;
const PLACES = 256;
/** Below half of the lower rate, so that what is left out does not fold back. */
const ROLL_OFF = 0.95;

/**
 * A sound at another rate: each sample from its neighbours by a sinc under a Hann window.
 * Source of the method: J. O. Smith, "Digital audio resampling" (1984), from memory.
 */
export function resampled({ samples, rate }: Sound, wanted: number): Sound {
  if (rate === wanted) return { samples, rate };
  const cut = Math.min(1, wanted / rate) * ROLL_OFF;
  const reach = ZEROS / cut;
  const table = Float32Array.from({ length: Math.ceil(reach * PLACES) + 2 }, (_, at) => {
    const away = at / PLACES;
    if (away >= reach) return 0;
    const angle = Math.PI * away * cut;
    const window = 0.5 + 0.5 * Math.cos((Math.PI * away) / reach);
    return cut * window * (at === 0 ? 1 : Math.sin(angle) / angle);
  });
  const made = new Float32Array(Math.floor((samples.length * wanted) / rate));
  for (let at = 0; at < made.length; at++) {
    const place = (at * rate) / wanted;
    const first = Math.max(0, Math.ceil(place - reach));
    const last = Math.min(samples.length - 1, Math.floor(place + reach));
    let sum = 0;
    for (let from = first; from <= last; from++)
      sum += samples[from]! * table[Math.round(Math.abs(place - from) * PLACES)]!;
    made[at] = sum;
  }
  return { samples: made, rate: wanted };
}
