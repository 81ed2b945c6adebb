/** Something that a source did wrong, where, and what its reader made of it. */
export interface Mend {
  /** Byte offset in the file as given. */
  at: number;
  /** Track index from 0, where the place lies in one. */
  track?: number;
  what: string;
  done: string;
}
