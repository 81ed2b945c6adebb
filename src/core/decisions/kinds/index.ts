import { add } from './add';
import { again } from './again';
import { barSign } from './bar-sign';
import { beats } from './beats';
import { brackets } from './brackets';
import { cast } from './cast';
import { channel } from './channel';
import { clef } from './clef';
import { clock } from './clock';
import { clockEvent } from './clock-event';
import { clockFrom } from './clock-from';
import { controllers } from './controllers';
import { credits } from './credits';
import { curve } from './curve';
import { drop } from './drop';
import { drum } from './drum';
import { frets } from './frets';
import { grid } from './grid';
import { groups } from './groups';
import { handOver } from './hand-over';
import { hanging } from './hanging';
import { hearing } from './hearing';
import { join } from './join';
import { key } from './key';
import { keySwitches } from './key-switches';
import { kit } from './kit';
import { lead } from './lead';
import { leads } from './leads';
import { leaveOut } from './leave-out';
import { lengths } from './lengths';
import { line } from './line';
import { marks } from './marks';
import { meant } from './meant';
import { meter } from './meter';
import { name } from './name';
import { offset } from './offset';
import { order } from './order';
import { part } from './part';
import { perform } from './perform';
import { pitch } from './pitch';
import { place } from './place';
import { playLike } from './play-like';
import { played } from './played';
import { programs } from './programs';
import { reference } from './reference';
import { repeats } from './repeats';
import { scoreForm } from './score-form';
import { shorthand } from './shorthand';
import { sign } from './sign';
import { silence } from './silence';
import { specks } from './specks';
import { split } from './split';
import { stacked } from './stacked';
import { staves } from './staves';
import { stem } from './stem';
import { string } from './string';
import { swing } from './swing';
import { take } from './take';
import { technique } from './technique';
import { title } from './title';
import { transpose } from './transpose';
import { values } from './values';
import { vary } from './vary';
import { velocities } from './velocities';
import { version } from './version';
import { voices } from './voices';
import { write } from './write';

/** All kinds of decisions, by the names that directives give them: a new one is a file and a line here. */
export const KINDS = {
  leads,
  version,
  'clock-from': clockFrom,
  perform,
  pitch,
  drop,
  add,
  write,
  again,
  played,
  'leave-out': leaveOut,
  name,
  cast,
  staves,
  take,
  technique,
  join,
  grid,
  lead,
  swing,
  groups,
  lengths,
  values,
  voices,
  marks,
  repeats,
  shorthand,
  clef,
  sign,
  'bar-sign': barSign,
  drum,
  frets,
  string,
  place,
  line,
  key,
  clock,
  order,
  brackets,
  part,
  title,
  credits,
  split,
  'key-switches': keySwitches,
  hanging,
  stacked,
  specks,
  controllers,
  curve,
  programs,
  transpose,
  velocities,
  kit,
  channel,
  'clock-event': clockEvent,
  beats,
  meter,
  silence,
  offset,
  vary,
  'play-like': playLike,
  meant,
  reference,
  stem,
  hearing,
  'hand-over': handOver,
  'score-form': scoreForm,
} as const;

export type Kinds = typeof KINDS;
export type KindName = keyof Kinds;

/** A directive as plain data, as it is stored and passed about. */
export type PlainDirective = { [K in KindName]: Omit<InstanceType<Kinds[K]['type']>, never> }[KindName];
