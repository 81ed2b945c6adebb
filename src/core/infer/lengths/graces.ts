import type { Attack } from '../../model/sketch';

/** A grace note takes no time. */
export function writeGraces(attacks: readonly Attack[]): void {
  for (const attack of attacks)
    if (attack.grace)
      for (const note of attack.notes) {
        note.start = attack.start;
        note.end = attack.start;
        note.grace = true;
      }
}
