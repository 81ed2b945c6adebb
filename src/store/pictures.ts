import { ENGINE } from '../core/workbench/engine';
import { database } from './database';
import { hashOf } from './jobs';

/** So many engraved systems are kept, over all jobs. */
const KEPT = 24;

/** Longer ones are engraved anew: keeping them would cost more than it saves. Characters. */
const LONGEST = 3_000_000;

const hashOfText = (text: string): Promise<string> => hashOf(new TextEncoder().encode(text));

/** What a picture is kept by: all that it is made of, and the build that makes it. */
const nameOf = (madeOf: readonly unknown[]): Promise<string> =>
  hashOfText(JSON.stringify([ENGINE, ...madeOf]));

/** A picture that was made of the very same things, if it is kept and as it was. */
export async function findPicture(madeOf: readonly unknown[]): Promise<string | undefined> {
  try {
    const row = await database.pictures.get(await nameOf(madeOf));
    return row && (await hashOfText(row.svg)) === row.hash ? row.svg : undefined;
  } catch {
    // It is made anew.
    return undefined;
  }
}

/** Keeps pictures; what cannot be kept for want of room is made anew another time. */
export async function keepPictures(made: readonly { of: readonly unknown[]; svg: string }[]): Promise<void> {
  try {
    const rows = await Promise.all(
      made
        .filter(({ svg }) => svg.length <= LONGEST)
        .map(async ({ of, svg }) => ({
          name: await nameOf(of),
          svg,
          hash: await hashOfText(svg),
          at: Date.now(),
        })),
    );
    await database.transaction('rw', database.pictures, async () => {
      await database.pictures.bulkPut(rows);
      const old = await database.pictures.orderBy('at').reverse().offset(KEPT).primaryKeys();
      await database.pictures.bulkDelete(old);
    });
  } catch {
    await database.pictures.clear().catch(() => {});
  }
}
