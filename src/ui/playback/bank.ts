import { bytesOfBank } from '../../store/sound';

/** The bank to play with: the user's own, else the one that ships. */
export async function bankBytes(): Promise<ArrayBuffer> {
  const own = await bytesOfBank();
  if (own) return own.slice().buffer as ArrayBuffer;
  return shippedBank();
}

/** The bank that ships. */
export async function shippedBank(): Promise<ArrayBuffer> {
  const reply = await fetch('/sound/stand-in.sf2');
  if (!reply.ok) throw new Error('The sound bank is missing from this installation.');
  return reply.arrayBuffer();
}
