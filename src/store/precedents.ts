import {
  BadPrecedentsError,
  type Precedent,
  parsePrecedents,
  writePrecedents,
} from '../core/cast/precedents';
import { database } from './database';
import { readSetting } from './jobs';
import { withRoom } from './room';

const SETTING = 'precedents';

/** The precedents that are kept; a damaged store has none. */
export async function listPrecedents(): Promise<Precedent[]> {
  const text = await readSetting(SETTING);
  if (text === undefined) return [];
  try {
    return parsePrecedents(text);
  } catch (error) {
    if (error instanceof BadPrecedentsError) return [];
    throw error;
  }
}

/** Changes what is kept, where that makes it another; what another tab decides meanwhile is not lost. */
export const changePrecedents = (make: (now: Precedent[]) => Precedent[]): Promise<void> =>
  withRoom(() =>
    database.transaction('rw', database.settings, async () => {
      const before = await listPrecedents();
      const [was, is] = [writePrecedents(before), writePrecedents(make(before))];
      if (was !== is) await database.settings.put({ name: SETTING, value: is });
    }),
  );
