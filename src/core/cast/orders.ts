import { type Family, instrumentOf, scoreOrder } from '../instruments/catalogue';

/**
 * Orders of parts in scores, as their conductors read them (common practice):
 * instruments and families from the top; what none names comes at its family's
 * place in the orchestra, after the others.
 */
const ORDERS = {
  orchestra: [],
  'wind-band': [
    'piccolo flute alto-flute bass-flute oboe english-horn bassoon contrabassoon',
    'clarinet-aflat clarinet-eflat clarinet-bflat clarinet-a alto-clarinet bass-clarinet contra-alto-clarinet contrabass-clarinet',
    'soprano-saxophone alto-saxophone tenor-saxophone baritone-saxophone bass-saxophone',
    '@woodwind',
    'soprano-cornet cornet trumpet-bflat flugelhorn horn-f alto-horn trombone bass-trombone',
    'baritone-horn baritone-horn-tc euphonium euphonium-tc tuba eflat-bass bflat-bass sousaphone',
    '@brass @strings @plucked @keyboard timpani @percussion @voice @electronic',
  ],
  'big-band': [
    '@voice piccolo flute clarinet-bflat',
    'soprano-saxophone alto-saxophone tenor-saxophone baritone-saxophone bass-clarinet @woodwind',
    'trumpet-bflat flugelhorn horn-f trombone bass-trombone tuba @brass',
    'vibraphone acoustic-guitar electric-guitar classical-guitar piano electric-piano @keyboard @electronic',
    '@plucked bass-guitar five-string-bass fretless-bass double-bass drum-set @percussion @strings',
  ],
  'brass-band': [
    'soprano-cornet cornet flugelhorn alto-horn baritone-horn-tc baritone-horn',
    'trombone-tc trombone bass-trombone euphonium-tc euphonium eflat-bass bflat-bass tuba @brass',
    '@percussion @woodwind @keyboard @plucked @voice @strings @electronic',
  ],
  choir: [
    'soprano treble mezzo-soprano alto countertenor tenor baritone bass-baritone bass-voice @voice',
    '@woodwind @brass @percussion @plucked @strings @electronic @keyboard',
  ],
  combo: [
    'voice @voice backing-vocals @woodwind @brass @strings',
    'acoustic-guitar classical-guitar electric-guitar @plucked @keyboard @electronic',
    'bass-guitar five-string-bass fretless-bass acoustic-bass-guitar double-bass synth-bass drum-set @percussion',
  ],
} as const satisfies Record<string, readonly string[]>;

export type ScoreOrder = keyof typeof ORDERS;

/** For people. */
export const SCORE_ORDERS: Readonly<Record<ScoreOrder, string>> = {
  orchestra: 'Orchestra',
  'wind-band': 'Wind band',
  'big-band': 'Big band',
  'brass-band': 'Brass band',
  choir: 'Choir',
  combo: 'Combo',
};

const PLACES = new Map<ScoreOrder, Map<string, number>>();
for (const [order, lines] of Object.entries(ORDERS) as [ScoreOrder, readonly string[]][])
  PLACES.set(
    order,
    new Map(
      lines
        .join(' ')
        .split(' ')
        .map((word, index) => [word, index]),
    ),
  );

/** Places of an order are so far apart that a whole catalogue fits between two. */
const APART = 10_000;

/** Where in a score of this order an instrument stands; only for comparing. */
export function placeIn(order: ScoreOrder, instrument: string): number {
  const places = PLACES.get(order)!;
  const family: Family = instrumentOf(instrument).family;
  const place = places.get(instrument) ?? places.get(`@${family}`) ?? 0;
  return place * APART + scoreOrder(instrument);
}

/** Parts in an order; those alike stay as they were. */
export const inOrder = <T extends { instrument: string }>(order: ScoreOrder, parts: readonly T[]): T[] =>
  [...parts].sort((a, b) => placeIn(order, a.instrument) - placeIn(order, b.instrument));
