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
  'brass-ensemble': [
    'piccolo-trumpet-bflat piccolo-trumpet-a trumpet-c trumpet-bflat cornet flugelhorn horn-f alto-horn trombone bass-trombone @brass',
    '@woodwind timpani @percussion @plucked @voice @strings @electronic @keyboard',
  ],
  choir: [
    'soprano treble mezzo-soprano alto countertenor tenor baritone bass-baritone bass-voice @voice',
    '@woodwind @brass @percussion @plucked @strings @electronic @keyboard',
  ],
  chamber: [
    'piccolo flute alto-flute oboe english-horn clarinet-eflat clarinet-bflat clarinet-a bass-clarinet horn-f bassoon',
    '@woodwind @brass @percussion @plucked @voice @strings @electronic @keyboard',
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
  'brass-ensemble': 'Brass ensemble',
  choir: 'Choir',
  chamber: 'Chamber music',
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

/** Chamber music has so many parts at most, a combo so many. */
const MOST_IN_CHAMBER = 8;
const MOST_IN_COMBO = 12;
/** Instruments that tell of an orchestra, whatever else plays. */
const OF_ORCHESTRA = /^(timpani|bassoon|contrabassoon|oboe|english-horn)$/;

/** In which order the parts of a piece are scored, told by who plays together (common practice). */
export function orderOf(instruments: readonly string[]): ScoreOrder {
  const count = (names: RegExp) => instruments.filter((each) => names.test(each)).length;
  const families = instruments.map((each) => instrumentOf(each).family);
  const inFamilies = (...some: Family[]) => families.filter((each) => some.includes(each)).length;
  const bowed = count(/^(violin|viola|cello)$/);
  const saxophones = count(/saxophone$/);
  const isBand = bowed === 0 && inFamilies('brass') >= 3;
  if (
    isBand &&
    inFamilies('woodwind') === 0 &&
    count(/cornet$/) >= 2 &&
    count(/^(alto-horn|baritone|euphonium)/) > 0
  )
    return 'brass-band';
  if (isBand && saxophones >= 3 && count(/^trumpet/) >= 2 && count(/^drum-set$/) > 0) return 'big-band';
  if (isBand && saxophones >= 2 && count(/clarinet/) > 0 && count(/^(flute|piccolo)$/) > 0)
    return 'wind-band';
  if (inFamilies('brass') > 1 && inFamilies('brass', 'percussion', 'keyboard') === instruments.length)
    return 'brass-ensemble';
  const isCombo =
    count(/^(drum-set|bass-guitar|five-string-bass|fretless-bass)$/) > 0 &&
    bowed <= 1 &&
    count(OF_ORCHESTRA) === 0;
  if (isCombo && instruments.length <= MOST_IN_COMBO) return 'combo';
  const keyboards = inFamilies('keyboard');
  const voices = inFamilies('voice');
  if (voices > 0 && voices + keyboards === instruments.length) return 'choir';
  if (instruments.length > MOST_IN_CHAMBER) return 'orchestra';
  const areWinds = inFamilies('woodwind') + count(/^horn-f$/) === instruments.length;
  const isWithKeyboard =
    keyboards > 0 && inFamilies('strings', 'woodwind', 'brass', 'keyboard') === instruments.length;
  return areWinds || isWithKeyboard ? 'chamber' : 'orchestra';
}
