import { database } from './database';
import { withRoom } from './room';
import type { BankRow } from './rows';

/** The user's own sound bank, where there is one. */
export const findBank = (): Promise<BankRow | undefined> => database.banks.get('own');

/** Keeps a sound bank in the place of any other. */
export const keepBank = (name: string, bytes: Uint8Array): Promise<void> =>
  withRoom(async () => {
    await database.banks.put({ id: 'own', name: name.slice(0, 120), bytes });
  });

/** Goes back to the bank that ships. */
export const dropBank = (): Promise<void> => database.banks.delete('own');
