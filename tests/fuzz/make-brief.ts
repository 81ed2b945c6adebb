import { getMetadataStorage } from 'class-validator';
import { EMPTY_BRIEF } from '@/core/decisions/brief';
import { KINDS, type KindName } from '@/core/decisions/kinds';
import type { Chance } from './chance';

type Checked = new () => object;

/** What checks the fields of a class, by field. */
function checksOf(type: Checked) {
  const fields = new Map<string, { name: string; constraints: unknown[] }[]>();
  for (const {
    propertyName,
    name,
    type: kind,
    constraints,
  } of getMetadataStorage().getTargetValidationMetadatas(type, '', true, false)) {
    const own = fields.get(propertyName) ?? [];
    own.push({ name: name ?? kind, constraints: constraints ?? [] });
    fields.set(propertyName, own);
  }
  return fields;
}

const STRAYS: readonly unknown[] = [
  null,
  -1,
  0,
  0.5,
  1e9,
  2 ** 31,
  2 ** 53,
  1e300,
  true,
  '',
  '__proto__',
  'x'.repeat(400),
  [],
  {},
  [null],
  { from: 1, to: 2 },
  [0, 480, 960],
  [4, 3, 2, 1],
  'cc7',
  'flute',
];

/** Ids as they are found in a job. */
export interface Known {
  strands: readonly string[];
  notes: readonly string[];
}

/** A value that the checks of a field let through, as far as they say what that is. */
function valueFor(
  checks: readonly { name: string; constraints: unknown[] }[],
  chance: Chance,
  known: Known,
): unknown {
  const of = (name: string) => checks.find((each) => each.name === name)?.constraints[0];
  const has = (name: string) => checks.some((each) => each.name === name);
  const inner = (): unknown => {
    const words = of('isIn');
    if (Array.isArray(words)) return chance.pick(words);
    if (has('equals')) return of('equals');
    if (has('isBoolean')) return chance.is(0.5);
    const pattern = of('matches');
    if (pattern instanceof RegExp) {
      const fits = [...known.notes, ...known.strands, '1', '2', 'P1/t2c1', '1/t2', '3'].filter((each) =>
        pattern.test(each),
      );
      return fits.length > 0 ? chance.pick(fits) : 'x';
    }
    if (has('isInt') || has('isNumber') || has('min') || has('max')) {
      const low = Number(of('min') ?? 0);
      const high = Number(of('max') ?? Math.max(low, chance.pick([1, 16, 960, 100_000])));
      const value = low + chance.share() * (high - low);
      return has('isInt') ? Math.round(value) : chance.pick([value, low, high]);
    }
    if (has('isString') || has('maxLength')) return chance.pick(['Flute', '', 'Ä♭', 'x'.repeat(80), '=1+1']);
    return chance.pick(STRAYS);
  };
  if (has('isArray') || has('arrayMaxSize') || has('arrayMinSize'))
    return chance.times(chance.below(5), inner);
  return inner();
}

/** A directive of any kind, made of the class of its kind: mostly right, at times not at all. */
export function makeDirective(chance: Chance, known: Known): Record<string, unknown> {
  const kind = chance.pick(Object.keys(KINDS) as KindName[]);
  const out: Record<string, unknown> = { kind };
  for (const [field, checks] of checksOf(KINDS[kind].type as unknown as Checked)) {
    if (field === 'kind') continue;
    const isOptional = checks.some(({ name }) => name === 'conditionalValidation' || name === 'isOptional');
    if (isOptional && chance.is(0.5)) continue;
    out[field] = chance.is(0.06) ? chance.pick(STRAYS) : valueFor(checks, chance, known);
  }
  return out;
}

/** A brief of a few directives, each of its own class. */
export const makeBrief = (chance: Chance, known: Known): object => ({
  ...EMPTY_BRIEF,
  ...(chance.is(0.02) && { version: chance.pick([1, 3, 'x']) }),
  directives: chance.times(chance.pick([1, 2, 4, 8, 20]), () => makeDirective(chance, known)),
});

/** Data that the checks of a class let through, or nearly. */
export function makeMessage(type: Checked, chance: Chance, known: Known): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const [field, checks] of checksOf(type))
    if (!chance.is(0.1)) out[field] = chance.is(0.1) ? chance.pick(STRAYS) : valueFor(checks, chance, known);
  return out;
}
