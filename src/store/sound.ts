import { database } from './database';
import { hashOf } from './jobs';
import { withRoom } from './room';
import type { BankRow } from './rows';

/** The user's own sound bank, where there is one. */
export const findBank = (): Promise<BankRow | undefined> => database.banks.get('own');

/**
 * The bytes of the user's own sound bank, where there is one.
 * @throws Error where they are not those that came
 */
export async function bytesOfBank(): Promise<Uint8Array | null> {
  const bank = await findBank();
  if (bank?.hash && bank.hash !== (await hashOf(bank.bytes)))
    throw new Error(
      `Your sound bank ${bank.name} is damaged: what this browser kept is no longer the file that you loaded. Load it again.`,
    );
  return bank?.bytes ?? null;
}

/** Keeps a sound bank in the place of any other. */
export const keepBank = (name: string, bytes: Uint8Array): Promise<void> =>
  withRoom(async () => {
    await database.banks.put({ id: 'own', name: name.slice(0, 120), bytes, hash: await hashOf(bytes) });
  });

/** Goes back to the bank that ships. */
export const dropBank = (): Promise<void> => database.banks.delete('own');
