import { packMxl } from '@/core/sources/musicxml/mxl';
import { bytesOf, type Chance, damaged } from './chance';

const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'] as const;
const TYPES: readonly (readonly [divisions: number, name: string])[] = [
  [1, '16th'],
  [2, 'eighth'],
  [3, 'eighth'],
  [4, 'quarter'],
  [6, 'quarter'],
  [8, 'half'],
  [12, 'half'],
  [16, 'whole'],
];
const NOTATIONS = [
  '<slur type="start"/>',
  '<slur type="stop"/>',
  '<tied type="start"/>',
  '<fermata/>',
  '<articulations><staccato/></articulations>',
  '<articulations><accent/><tenuto/></articulations>',
  '<ornaments><trill-mark/></ornaments>',
  '<ornaments><mordent/></ornaments>',
  '<ornaments><tremolo type="single">3</tremolo></ornaments>',
  '<ornaments><tremolo type="start">2</tremolo></ornaments>',
  '<arpeggiate/>',
  '<glissando type="start" number="1"/>',
  '<glissando type="stop" number="1"/>',
  '<technical><string>2</string><fret>3</fret></technical>',
  '<tuplet type="start"/>',
  '<tuplet type="stop"/>',
];
const DIRECTIONS = [
  '<dynamics><f/></dynamics>',
  '<dynamics><pp/></dynamics>',
  '<wedge type="crescendo"/>',
  '<wedge type="stop"/>',
  '<words>pizz.</words>',
  '<words>arco</words>',
  '<words>rit.</words>',
  '<words>a2</words>',
  '<metronome><beat-unit>quarter</beat-unit><per-minute>96</per-minute></metronome>',
  '<rehearsal>A</rehearsal>',
  '<pedal type="start" line="yes"/>',
  '<pedal type="stop" line="yes"/>',
  '<octave-shift type="down" size="8"/>',
  '<octave-shift type="stop" size="8"/>',
  '<segno/>',
  '<coda/>',
];
const SOUNDS = [
  'dacapo="yes"',
  'dalsegno="1"',
  'fine="yes"',
  'tocoda="1"',
  'segno="1"',
  'tempo="132"',
  'coda="1"',
];
const NAMES = [
  'Flute',
  'Horns 1 &amp; 2',
  'Piano',
  'B♭ Clarinet',
  'Drumset',
  'Guitar',
  '',
  'Violin I',
  'Solo',
];

function note(chance: Chance, length: number, name: string | null, voice: number, staff: number): string {
  const isRest = chance.is(0.1);
  const alter = chance.is(0.2) ? `<alter>${chance.pick([-1, 1, 2, -2, 0.5])}</alter>` : '';
  const pitch = isRest
    ? '<rest/>'
    : chance.is(0.03)
      ? '<unpitched><display-step>E</display-step><display-octave>4</display-octave></unpitched>'
      : `<pitch><step>${chance.pick(STEPS)}</step>${alter}<octave>${chance.pick([3, 4, 5, chance.below(10)])}</octave></pitch>`;
  const tie = !isRest && chance.is(0.08) ? `<tie type="${chance.pick(['start', 'stop'])}"/>` : '';
  const says = chance.is(0.2) ? `<notations>${chance.pick(NOTATIONS)}</notations>` : '';
  const lyric = chance.is(0.05) ? '<lyric><syllabic>single</syllabic><text>la</text></lyric>' : '';
  const dot = length % 3 === 0 ? '<dot/>' : '';
  const more = `<voice>${voice}</voice>${name ? `<type>${name}</type>` : ''}${dot}${staff > 0 ? `<staff>${staff}</staff>` : ''}${says}${lyric}`;
  const grace =
    !isRest && chance.is(0.05)
      ? `<note><grace/>${pitch}<voice>${voice}</voice><type>eighth</type></note>`
      : '';
  const own = `<note>${pitch}<duration>${length}</duration>${tie}${more}</note>`;
  const chord =
    !isRest && chance.is(0.12)
      ? `<note><chord/><pitch><step>${chance.pick(STEPS)}</step><octave>${chance.between(2, 6)}</octave></pitch><duration>${length}</duration>${more}</note>`
      : '';
  return grace + own + chord;
}

function voiceOf(chance: Chance, length: number, voice: number, staff: number): string {
  let left = length;
  let out = '';
  while (left > 0) {
    const fits = TYPES.filter(([each]) => each <= left);
    const [own, name] = fits.length > 0 ? chance.pick(fits) : [left, null];
    left -= own;
    if (chance.is(0.08))
      out += `<direction><direction-type>${chance.pick(DIRECTIONS)}</direction-type></direction>`;
    if (chance.is(0.03))
      out += `<direction><direction-type><words>x</words></direction-type><sound ${chance.pick(SOUNDS)}/></direction>`;
    if (chance.is(0.03))
      out += '<harmony><root><root-step>G</root-step></root><kind>dominant</kind></harmony>';
    out += note(chance, own, name, voice, staff);
  }
  return out;
}

/** What one bar has at its lines, the same in all parts. */
function barLines(chance: Chance): { left: string; right: string } {
  const ending = (type: string) =>
    `<ending number="${chance.pick(['1', '2', '1, 2', '3'])}" type="${type}"/>`;
  const times = chance.is(0.2) ? ` times="${chance.is(0.1) ? 1_000_000 : chance.pick([1, 2, 3, 9, 0])}"` : '';
  return {
    left: chance.is(0.1)
      ? `<barline location="left">${chance.is(0.4) ? ending('start') : ''}<repeat direction="forward"/></barline>`
      : '',
    right: chance.is(0.12)
      ? `<barline location="right">${chance.is(0.4) ? ending('stop') : ''}<repeat direction="backward"${times}/></barline>`
      : '',
  };
}

/** A MusicXML document, whole. */
export function makeScore(chance: Chance): string {
  const parts = chance.pick([1, 1, 1, 2, 3]);
  const bars = chance.pick([1, 1, 2, 3, 6]);
  const lengths = chance.times(bars, () => chance.pick([16, 16, 16, 12, 8, 14]));
  const lines = chance.times(bars, () => barLines(chance));
  const list = chance.times(
    parts,
    (at) => `<score-part id="P${at + 1}"><part-name>${chance.pick(NAMES)}</part-name></score-part>`,
  );
  const group = chance.is(0.2)
    ? [
        '<part-group type="start" number="1"><group-symbol>bracket</group-symbol></part-group>',
        '<part-group type="stop" number="1"/>',
      ]
    : ['', ''];
  const body = chance.times(parts, (at) => {
    const staves = chance.is(0.2) ? 2 : 1;
    const transposed = chance.is(0.2)
      ? '<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>'
      : '';
    const measures = lengths.map((length, index) => {
      const opening =
        index === 0 || chance.is(0.05)
          ? `<attributes>${index === 0 ? '<divisions>4</divisions>' : ''}<key><fifths>${chance.between(-7, 7)}</fifths></key><time><beats>${length / 4 === Math.floor(length / 4) ? length / 4 : length}</beats><beat-type>${length % 4 === 0 ? 4 : 16}</beat-type></time>${staves === 2 && index === 0 ? '<staves>2</staves>' : ''}<clef${staves === 2 ? ' number="1"' : ''}><sign>${chance.pick(['G', 'F', 'C', 'percussion'])}</sign><line>${chance.between(2, 4)}</line></clef>${index === 0 ? transposed : ''}</attributes>`
          : '';
      const first = voiceOf(chance, length, 1, staves === 2 ? 1 : 0);
      const second =
        staves === 2 || chance.is(0.15)
          ? `<backup><duration>${length}</duration></backup>${voiceOf(chance, length, 2, staves === 2 ? 2 : 0)}`
          : '';
      const { left, right } = lines[index]!;
      const implicit = index === 0 && chance.is(0.1) ? ' implicit="yes"' : '';
      return `<measure number="${implicit ? 0 : index + 1}"${implicit}>${left}${opening}${first}${second}${right}</measure>`;
    });
    return `<part id="P${at + 1}">${measures.join('\n')}</part>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<score-partwise version="4.0"><part-list>${group[0]}${list.join('')}${group[1]}</part-list>\n${body.join('\n')}</score-partwise>\n`;
}

const VALUES = ['0', '-1', '999999999', '1e9', 'x', '0.3', '-99', '127', 'H', '', '1000000', '  ', '٣'];

/** The same with elements taken out, doubled and put elsewhere, and with other values. */
function shaken(text: string, chance: Chance): string {
  let out = text;
  for (let count = chance.between(1, 5); count > 0; count--) {
    const places = [
      ...out.matchAll(/<([a-z-]+)(?:\s[^>]*)?>[^<]*<\/\1>|<[a-z-]+(?:\s[^>]*)?\/>|<\/?[a-z-]+[^>]*>/g),
    ];
    if (places.length === 0) return out;
    const { index, 0: own } = chance.pick(places);
    const [before, after] = [out.slice(0, index), out.slice(index + own.length)];
    const kind = chance.below(5);
    if (kind === 0) out = before + after;
    else if (kind === 1) out = before + own + own + after;
    else if (kind === 2) {
      const to = chance.pick(places).index;
      out = to < index ? out.slice(0, to) + own + out.slice(to, index) + after : before + after;
    } else if (kind === 3) out = before + own.replace(/>[^<]+</, `>${chance.pick(VALUES)}<`) + after;
    else out = before + own.replace(/="[^"]*"/, `="${chance.pick(VALUES)}"`) + after;
  }
  return out;
}

/** A MusicXML file as it may come: whole, shaken as a tree, with other bytes, packed. */
export function makeMusicXml(chance: Chance): Uint8Array {
  const text = makeScore(chance);
  const how = chance.share();
  const shaped = how < 0.45 ? text : shaken(text, chance);
  if (how > 0.9) return damaged(packMxl(shaped), chance, 2);
  if (how > 0.8) return packMxl(shaped);
  const bytes = bytesOf(shaped);
  if (how > 0.7) return damaged(bytes, chance);
  if (how > 0.66) return inUtf16(shaped, chance.is(0.5), chance.is(0.7));
  return bytes;
}

function inUtf16(text: string, isLittle: boolean, hasMark: boolean): Uint8Array {
  const units = hasMark ? `\ufeff${text}` : text;
  const out = new Uint8Array(2 * units.length);
  const view = new DataView(out.buffer);
  for (let at = 0; at < units.length; at++) view.setUint16(2 * at, units.charCodeAt(at), isLittle);
  return out;
}
