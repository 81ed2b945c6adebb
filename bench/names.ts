/**
 * How well names tell instrument, players and technique: `npm run bench:names`.
 *
 * Data: bench/names/list.txt, invented from trade knowledge, in two halves by
 * a hash of the name: one that the recogniser was tuned on, one that is only
 * reported. Beside it the plain rule: the longest catalogue name in it, the
 * first number in it, no technique.
 *
 * And how well names that only their company explains are understood
 * (bench/names/line-ups.txt): by the plain rule, each by itself, and among the
 * others; of the second part nothing was looked at while tuning.
 */
import { readFileSync } from 'node:fs';
import { CATALOGUE } from '../src/core/instruments/catalogue';
import { companiesOf } from '../src/core/instruments/company';
import { wordsOf } from '../src/core/instruments/name-words';
import { type Evidence, recogniseInstrument } from '../src/core/instruments/recognise';

interface Row {
  name: string;
  instrument: string;
  number: string;
  technique: string;
  program: number | null;
  lowest?: number;
  highest?: number;
}

const rows = readFileSync('bench/names/list.txt', 'utf8')
  .split('\n')
  .filter((line) => line && !line.startsWith('#'))
  .map((line): Row => {
    const [name = '', instrument = '', number = '', technique = '', program = '', range = ''] =
      line.split(';');
    const [lowest, highest] = range.split('-').map(Number);
    return {
      name,
      instrument,
      number,
      technique,
      program: program ? Number(program) - 1 : null,
      ...(range && { lowest, highest }),
    };
  });

/** FNV-1a, to part the list without regard to its order. */
const hash = (text: string): number => {
  let value = 0x811c9dc5;
  for (const letter of text) value = Math.imul(value ^ letter.codePointAt(0)!, 0x01000193) >>> 0;
  return value >>> 7;
};

const NAMES = CATALOGUE.flatMap(({ id, name, aliases }) =>
  [name, ...aliases].map((alias) => ({ id, words: wordsOf(alias).join(' ') })),
).sort((a, b) => b.words.length - a.words.length);
function plainly({ name }: Row) {
  const text = ` ${wordsOf(name).join(' ')} `;
  return {
    instrument: NAMES.find(({ words }) => text.includes(` ${words} `))?.id ?? 'piano',
    number: /\d+/.exec(name)?.[0] ?? '',
    technique: '',
  };
}
function ours({ name, program, lowest, highest }: Row) {
  const guess = recogniseInstrument({
    name,
    programs: program === null ? [] : [program],
    channel: 0,
    ...(lowest !== undefined && { lowest }),
    ...(highest !== undefined && { highest }),
  });
  return {
    instrument: guess.instrument.id,
    number: guess.players.join('+'),
    technique: guess.technique ?? '',
  };
}

const shown = process.argv.includes('--tune');
for (const [half, own] of [
  ['tune', rows.filter(({ name }) => hash(name) % 2 === 0)],
  ['report', rows.filter(({ name }) => hash(name) % 2 === 1)],
] as const) {
  const table: Record<string, object> = {};
  for (const [who, guess] of [
    ['plain rule', plainly],
    ['ours', ours],
  ] as const) {
    const right = { instrument: 0, number: 0, technique: 0 };
    let evidenced = 0;
    let evidencedRight = 0;
    for (const row of own) {
      const found = guess(row);
      if (found.instrument === row.instrument) right.instrument++;
      if (found.number === row.number) right.number++;
      if (found.technique === row.technique) right.technique++;
      if (row.program !== null) {
        evidenced++;
        if (found.instrument === row.instrument) evidencedRight++;
      }
      if (shown && half === 'tune' && who === 'ours') {
        const wrong = (['instrument', 'number', 'technique'] as const).filter(
          (each) => found[each] !== row[each],
        );
        for (const each of wrong)
          console.log(`${row.name} (${(row.program ?? -1) + 1}): ${each} ${row[each]} is ${found[each]}`);
      }
    }
    const share = (count: number, of: number) => `${((100 * count) / of).toFixed(1)} %`;
    table[who] = {
      names: own.length,
      instrument: share(right.instrument, own.length),
      number: share(right.number, own.length),
      technique: share(right.technique, own.length),
      'with a program': share(evidencedRight, evidenced),
    };
  }
  console.log(half === 'tune' ? 'The half that it was tuned on:' : 'The half that it was not tuned on:');
  console.table(table);
}

interface Member extends Evidence {
  /** Catalogue ids that are right; none where the strand is company alone. */
  right: string[];
}
/** name=instrument|another@program(lowest-highest), a "!" for the percussion channel. */
const MEMBER = /^([^=@(!]+)(?:=([^@(!]+))?(?:@(\d+))?(!)?\((\d+)-(\d+)\)$/;
function memberOf(text: string): Member {
  const [, name = '', right, program, drums, lowest, highest] = MEMBER.exec(text) ?? [];
  if (!name) throw new Error(`${text} is no strand of a line-up`);
  return {
    name,
    right: right?.split('|') ?? [],
    programs: program ? [Number(program) - 1] : [],
    channel: drums ? 9 : 0,
    lowest: Number(lowest),
    highest: Number(highest),
  };
}

const lineUps = readFileSync('bench/names/line-ups.txt', 'utf8')
  .split('\n')
  .filter((line) => line && !line.startsWith('#'))
  .map((line) => {
    const [title = '', ...members] = line.split(';');
    return { title, members: members.map(memberOf) };
  });

/** What a guess says with more than this and is wrong, nobody looks at. */
const SURE = 0.8;
for (const part of ['tuned', 'new']) {
  const own = lineUps.filter(({ title }) => title.startsWith(`${part}:`));
  const table: Record<string, object> = {};
  for (const [who, guessed] of [
    ['plain rule', (members: Member[]) => members.map(plainLine)],
    ['each by itself', (members: Member[]) => members.map(alone)],
    ['ours', among],
  ] as const) {
    const asked = own.flatMap(({ title, members }) =>
      guessed(members).flatMap((guess, at) => {
        const { name, right } = members[at] as Member;
        return right.length > 0 ? [{ ...guess, title, name, right }] : [];
      }),
    );
    const wrong = asked.filter(({ id, right }) => !right.includes(id));
    if (shown && who === 'ours' && part === 'tuned')
      for (const { title, name, id } of wrong) console.log(`${title}: ${name} is ${id}`);
    table[who] = {
      'line-ups': own.length,
      names: asked.length,
      right: `${((100 * (asked.length - wrong.length)) / asked.length).toFixed(1)} %`,
      'wrong and sure': wrong.filter(({ confidence }) => confidence > SURE).length,
    };
  }
  console.log(part === 'tuned' ? 'Line-ups that it was tuned on:' : 'Line-ups that it was not tuned on:');
  console.table(table);
}

function plainLine({ name }: Member) {
  const text = ` ${wordsOf(name).join(' ')} `;
  const id = NAMES.find(({ words }) => text.includes(` ${words} `))?.id ?? 'piano';
  return { id, confidence: 1 };
}

function alone(evidence: Evidence) {
  const { instrument, confidence } = recogniseInstrument(evidence);
  return { id: instrument.id, confidence };
}

function among(members: readonly Member[]) {
  const companies = companiesOf(members);
  return members.map((member, at) => alone({ ...member, company: companies[at] ?? undefined }));
}
