/** A count with its noun: "1 note", "2 notes". */
export const counted = (count: number, noun: string): string =>
  `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`;
