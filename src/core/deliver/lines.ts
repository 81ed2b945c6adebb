import type { PartPlan } from '../cast/route';
import type { HandOverChoice } from '../decisions/kinds/hand-over';
import type { Instrument } from '../instruments/catalogue';
import type { EventId } from '../model/ids';
import { nameOfPlayer } from '../perform/players';
import type { HandOverSource, Manner } from './source';

/** What becomes one track: a part, or what one player or one technique has of it. */
export interface Line {
  plan: PartPlan;
  name: string;
  /** General MIDI program, 0–127. */
  program: number;
  /** The notes that it takes; null for all. */
  takes: ((note: EventId) => boolean) | null;
  /** The first of its part carries what goes with no note. */
  isFirst: boolean;
}

/** General MIDI has these for techniques of their own (General MIDI Level 1: 46 pizzicato strings, 60 muted trumpet). */
const PROGRAMS: readonly { technique: RegExp; fits: (instrument: Instrument) => boolean; program: number }[] =
  [
    { technique: /pizzicato/, fits: ({ family }) => family === 'strings', program: 45 },
    { technique: /mute/, fits: ({ id }) => /trumpet|cornet/.test(id), program: 59 },
  ];

const programOf = ({ instrument, program }: PartPlan, technique: string): number =>
  PROGRAMS.find((each) => each.technique.test(technique) && each.fits(instrument))?.program ?? program;

const HANDS = [
  { staff: 1, name: 'right hand' },
  { staff: 2, name: 'left hand' },
];

/** Parts as tracks: one each, or more where players, techniques or hands are to have their own. */
export function linesOf(
  { performance, manners, staves }: Pick<HandOverSource, 'performance' | 'manners' | 'staves'>,
  plans: readonly PartPlan[],
  { apart = [] }: Pick<HandOverChoice, 'apart'>,
): Line[] {
  return plans.flatMap((plan): Line[] => {
    const whole: Line = {
      plan,
      name: plan.name,
      program: plan.program,
      takes: null,
      isFirst: true,
    };
    if (apart.length === 0 || manners.size + staves.size === 0) return [whole];
    const notes = performance.strands
      .filter(({ id }) => plan.strands.includes(id))
      .flatMap((strand) => strand.notes);
    const mannerOf = (note: EventId): Manner => manners.get(note) ?? {};
    const byPlayer = apart.includes('players');
    const byTechnique = apart.includes('techniques');
    const players = byPlayer
      ? [...new Set(notes.flatMap(({ id }) => mannerOf(id).players ?? []))].sort()
      : [];
    const techniques = byTechnique
      ? [...new Set(notes.map(({ id }) => mannerOf(id).technique ?? ''))].sort(ordinaryFirst)
      : [''];
    const hands = notes.some(({ id }) => staves.get(id) === 2) ? HANDS : [null];
    const lines = (players.length > 1 ? players : [null]).flatMap((player) =>
      techniques.flatMap((technique) =>
        hands.map((hand): Line => {
          const name = player === null ? plan.name : nameOfPlayer(plan.name, player);
          const said = [technique, ...(hand ? [hand.name] : [])].filter(Boolean).join(', ');
          return {
            plan,
            name: said ? `${name} (${said})` : name,
            program: programOf(plan, technique),
            takes: (note) => {
              const manner = mannerOf(note);
              return (
                (player === null || !manner.players || manner.players.includes(player)) &&
                (!byTechnique || (manner.technique ?? '') === technique) &&
                (hand === null || (staves.get(note) ?? 1) === hand.staff)
              );
            },
            isFirst: false,
          };
        }),
      ),
    );
    const sounding = lines.filter(({ takes }) => notes.some(({ id }) => takes?.(id)));
    if (sounding.length < 2) return [whole];
    return sounding.map((line, index) => ({ ...line, isFirst: index === 0 }));
  });
}

const ordinaryFirst = (a: string, b: string): number =>
  Number(a !== '') - Number(b !== '') || a.localeCompare(b);
