import { all, child, type Node, textOf } from './schema';

/**
 * What a partwise MusicXML document says, as plain facts by category, each
 * with its part, bar and exact place: gathered from the elements alone,
 * without the product's reader. Two documents say the same in a category when
 * the facts are equal as bags.
 */
export type Facts = Record<string, string[]>;

/** A fraction in lowest terms. */
function fraction(numerator: number, denominator: number): string {
  // Divisions may be decimal (MusicXML 4.0, `divisions`).
  let [n, d] = [Math.round(numerator * 1000), Math.round(denominator * 1000)];
  const gcd = (a: number, b: number): number => (b === 0 ? Math.abs(a) : gcd(b, a % b));
  const by = gcd(n, d) || 1;
  n /= by;
  d /= by;
  return d === 1 ? `${n}` : `${n}/${d}`;
}

const NOTATION_GROUPS = ['articulations', 'ornaments', 'technical'];

export function factsOf(document: Node): Facts {
  const facts: Facts = {};
  const say = (category: string, fact: string) => {
    facts[category] ??= [];
    facts[category].push(fact);
  };
  all(document, 'part').forEach((part, p) => {
    let divisions = 1;
    all(part, 'measure').forEach((measure, m) => {
      let at = 0;
      let onset = 0;
      const bar = `p${p} b${m}`;
      const place = (position: number) => `${bar} @${fraction(position, divisions)}`;
      for (const each of measure.children) {
        const length = Number(textOf(each, 'duration') ?? 0);
        const moment = Math.max(0, at + Number(textOf(each, 'offset') ?? 0));
        if (each.name === 'attributes') {
          const next = Number(textOf(each, 'divisions') ?? divisions);
          at *= next / divisions;
          divisions = next;
          for (const key of all(each, 'key')) say('keys', `${place(at)} ${textOf(key, 'fifths')}`);
          for (const time of all(each, 'time'))
            say('meters', `${bar} ${time.children.map((one) => `${one.name} ${one.text}`).join(' ')}`);
          for (const clef of all(each, 'clef'))
            say(
              'clefs',
              `${place(at)} ${clef.attributes.number ?? 1} ${textOf(clef, 'sign')}${textOf(clef, 'line') ?? ''} ${textOf(clef, 'clef-octave-change') ?? 0}`,
            );
          for (const transpose of all(each, 'transpose'))
            say(
              'transpositions',
              `${place(at)} ${Number(textOf(transpose, 'chromatic')) + 12 * Number(textOf(transpose, 'octave-change') ?? 0)}`,
            );
        } else if (each.name === 'backup') at -= length;
        else if (each.name === 'forward') at += length;
        else if (each.name === 'note') {
          const isGrace = child(each, 'grace') !== undefined;
          if (!child(each, 'chord')) {
            onset = at;
            if (!isGrace) at += length;
          }
          noteFacts(each, `${place(onset)}`, isGrace ? 'grace' : fraction(length, divisions), say);
        } else if (each.name === 'direction') directionFacts(each, place(moment), say);
        else if (each.name === 'harmony')
          say(
            'chord symbols',
            `${place(moment)} ${textOf(child(each, 'root') ?? each, 'root-step')} ${textOf(each, 'kind')}`,
          );
        else if (each.name === 'figured-bass')
          say('figured bass', `${place(at)} ${all(each, 'figure').length}`);
        else if (each.name === 'barline')
          say(
            'bar lines',
            `${bar} ${each.attributes.location ?? 'right'} ${each.children.map((one) => `${one.name} ${one.attributes.direction ?? one.attributes.type ?? one.text}`).join(' ')}`,
          );
      }
    });
  });
  return facts;
}

function noteFacts(note: Node, place: string, length: string, say: (category: string, fact: string) => void) {
  if (child(note, 'rest')) {
    if (note.attributes['print-object'] !== 'no')
      say('rests', child(note, 'rest')?.attributes.measure === 'yes' ? `${place} bar` : `${place} ${length}`);
    return;
  }
  const pitch = child(note, 'pitch');
  const unpitched = child(note, 'unpitched');
  const name = pitch
    ? `${textOf(pitch, 'step')}${Number(textOf(pitch, 'alter') ?? 0)}/${textOf(pitch, 'octave')}`
    : `x${(unpitched && textOf(unpitched, 'display-step')) ?? ''}${(unpitched && textOf(unpitched, 'display-octave')) ?? ''}`;
  const here = `${place} ${name}`;
  const notations = all(note, 'notations').flatMap((each) => each.children);
  const ties = new Set([
    ...all(note, 'tie').map((each) => each.attributes.type),
    ...notations.filter((each) => each.name === 'tied').map((each) => each.attributes.type),
  ]);
  say('notes', `${here} ${length}`);
  for (const tie of ties) if (tie === 'start' || tie === 'stop') say('ties', `${here} ${tie}`);
  const modification = child(note, 'time-modification');
  const ratio = modification
    ? ` ${textOf(modification, 'actual-notes')}:${textOf(modification, 'normal-notes')}`
    : '';
  const type = textOf(note, 'type');
  if (type) say('values', `${here} ${type}${'.'.repeat(all(note, 'dot').length)}${ratio}`);
  say('staves', `${here} ${textOf(note, 'staff') ?? 1}`);
  if (textOf(note, 'accidental')) say('accidentals', `${here} ${textOf(note, 'accidental')}`);
  if (textOf(note, 'notehead') && textOf(note, 'notehead') !== 'normal')
    say('heads', `${here} ${textOf(note, 'notehead')}`);
  if (child(note, 'cue')) say('cues', here);
  for (const beam of all(note, 'beam')) say('beams', `${here} ${beam.attributes.number ?? 1} ${beam.text}`);
  for (const lyric of all(note, 'lyric'))
    if (child(lyric, 'text'))
      say(
        'lyrics',
        `${here} ${textOf(lyric, 'syllabic') ?? 'single'} ${all(lyric, 'text')
          .map(({ text }) => text.trim())
          .join('+')}`,
      );
  for (const each of notations) {
    if (NOTATION_GROUPS.includes(each.name))
      for (const mark of each.children)
        if (!['accidental-mark'].includes(mark.name))
          say(each.name, `${place} ${mark.name} ${mark.attributes.type ?? ''}`);
    if (each.name === 'slur') say('slurs', `${here} ${each.attributes.type}`);
    if (each.name === 'fermata') say('fermatas', place);
    if (each.name === 'tuplet') say('tuplets', `${place} ${each.attributes.type}`);
    if (each.name === 'glissando' || each.name === 'slide')
      say('glissandos', `${here} ${each.attributes.type}`);
    if (each.name === 'arpeggiate') say('arpeggios', here);
    if (each.name === 'dynamics') for (const mark of each.children) say('dynamics', `${place} ${mark.name}`);
  }
}

function directionFacts(direction: Node, place: string, say: (category: string, fact: string) => void) {
  const words: string[] = [];
  for (const type of all(direction, 'direction-type'))
    for (const each of type.children) {
      if (each.name === 'dynamics')
        for (const mark of each.children) say('dynamics', `${place} ${mark.name}`);
      else if (
        each.name === 'wedge' ||
        each.name === 'pedal' ||
        each.name === 'octave-shift' ||
        each.name === 'dashes'
      )
        say(each.name, `${place} ${each.attributes.type}`);
      else if (each.name === 'metronome')
        say('tempos', `${place} ${each.children.map((one) => one.text).join(' ')}`);
      else if (each.name === 'words') words.push(each.text.trim());
      else if (each.name === 'rehearsal') say('rehearsals', `${place} ${each.text.trim()}`);
      else if (each.name === 'segno' || each.name === 'coda') say('signs', `${place} ${each.name}`);
    }
  if (words.join(' ').trim()) say('words', `${place} ${words.join(' ').trim()}`);
}

/** What the one says and the other does not, by category, both ways. */
export function differences(
  before: Facts,
  after: Facts,
): Record<string, { missing: string[]; added: string[]; of: number }> {
  const found: Record<string, { missing: string[]; added: string[]; of: number }> = {};
  for (const category of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const left = new Map<string, number>();
    for (const fact of before[category] ?? []) left.set(fact, (left.get(fact) ?? 0) + 1);
    const added: string[] = [];
    for (const fact of after[category] ?? []) {
      const count = left.get(fact) ?? 0;
      if (count > 0) left.set(fact, count - 1);
      else added.push(fact);
    }
    const missing = [...left].flatMap(([fact, count]) => Array<string>(count).fill(fact));
    if (missing.length + added.length > 0)
      found[category] = { missing, added, of: before[category]?.length ?? 0 };
  }
  return found;
}
