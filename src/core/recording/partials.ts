import { medianOf } from '../basics/average';
import { PARTIALS, type Strength } from './candidates';

/** As many neighbours tell it of a key. */
const NEIGHBOURS = 21;
/** What is told of partials where nothing is known yet. */
const UNKNOWN: Strength = { level: -15, frame: 0.2, onset: 0.2 };

/** How strong the partials of notes are that nothing doubles, in this recording, by key. */
export class PartialProfile {
  private readonly seen: { key: number; strength: Strength }[][] = PARTIALS.map(() => []);
  private readonly known = new Map<string, Strength>();

  add(partial: number, key: number, strength: Strength): void {
    this.seen[partial]!.push({ key, strength });
  }

  /** In the middle of what the nearest keys show. */
  of(partial: number, key: number): Strength {
    const name = `${partial} ${key}`;
    const known = this.known.get(name);
    if (known) return known;
    const near = this.seen[partial]!.toSorted((a, b) => Math.abs(a.key - key) - Math.abs(b.key - key))
      .slice(0, NEIGHBOURS)
      .map(({ strength }) => strength);
    const made: Strength =
      near.length === 0
        ? UNKNOWN
        : {
            level: medianOf(near.map(({ level }) => level)),
            frame: medianOf(near.map(({ frame }) => frame)),
            onset: medianOf(near.map(({ onset }) => onset)),
          };
    this.known.set(name, made);
    return made;
  }
}
