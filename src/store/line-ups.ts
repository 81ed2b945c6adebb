import { type LineUp, lineUpText, readLineUp } from '../core/cast/line-ups';
import { database } from './database';
import { readSetting } from './jobs';
import { withRoom } from './room';

const SETTING = 'line-ups';

/** The user's own line-ups; what is damaged is left aside. */
export async function listLineUps(): Promise<LineUp[]> {
  const text = await readSetting(SETTING);
  if (text === undefined) return [];
  try {
    const texts: unknown = JSON.parse(text);
    return Array.isArray(texts) ? texts.flatMap(readable) : [];
  } catch {
    return [];
  }
}

function readable(text: unknown): LineUp[] {
  try {
    return typeof text === 'string' ? [readLineUp(text)] : [];
  } catch {
    return [];
  }
}

/** Changes the user's line-ups; what another tab changes meanwhile is not lost. */
export const changeLineUps = (make: (now: LineUp[]) => LineUp[]): Promise<void> =>
  withRoom(() =>
    database.transaction('rw', database.settings, async () => {
      const value = JSON.stringify(make(await listLineUps()).map(lineUpText));
      await database.settings.put({ name: SETTING, value });
    }),
  );
