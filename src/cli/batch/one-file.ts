import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import { threadId } from 'node:worker_threads';
import { finished } from '../../core/basics/steps';
import { parseBrief } from '../../core/decisions/brief';
import { WHOLE_PACKET } from '../../core/deliver/packet-choice';
import { packetOf } from '../../core/workbench/packet';
import { proofOf } from '../../core/workbench/proof';
import { hearRecordings, openFile, unfollowed } from '../files';
import { handedOver } from '../hand-over';
import { isKnown, whyOf } from '../usage-error';
import type { FileOrder, Made } from './outcome';

const NOTHING = { target: '', bytes: 0, notes: 0, agree: 0, meant: 0, wrong: 0, doubtful: 0 };

/** Does what is asked for one file: what is made is there whole, or not at all. */
export async function doFile(order: FileOrder): Promise<Made> {
  try {
    return await made(order);
  } catch (error) {
    return { ...NOTHING, state: isKnown(error) ? 'refused' : 'failed', why: whyOf(error) };
  }
}

async function made({ path, to, stem, scratch, brief: data }: FileOrder): Promise<Made> {
  await hearRecordings([path]);
  const workbench = openFile(path);
  const { desk } = workbench.layOut(0, parseBrief(data));
  const written = finished(workbench.write(0));
  const { extension, bytes, left } =
    to === 'packet'
      ? {
          extension: 'zip',
          bytes: finished(packetOf(written, WHOLE_PACKET, basename(path, extname(path)))),
          left: [],
        }
      : await handedOver(basename(path), workbench, 0, to, desk.decisions);
  const { findings, agreement } = finished(proofOf(written));
  const open = findings.filter(({ id }) => !desk.decisions.meant.has(id));
  const target = `${stem}.${extension}`;
  try {
    put(target, bytes, scratch);
  } catch {
    return { ...NOTHING, state: 'failed', why: `${target} cannot be written.` };
  }
  return {
    state: 'made',
    why: '',
    target,
    bytes: bytes.length,
    ...agreement,
    wrong: open.filter(({ weight }) => weight === 'wrong').length,
    doubtful: open.filter(({ weight }) => weight === 'doubtful').length,
    left: [...unfollowed(desk), ...left],
  };
}

/** Writes a file so that it is whole or not there, whenever this is ended. */
function put(target: string, bytes: Uint8Array, scratch: string): void {
  const part = join(scratch, `${process.pid}-${threadId}.part`);
  try {
    mkdirSync(dirname(target), { recursive: true });
    writeFileSync(part, bytes, { flush: true });
    renameSync(part, target);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
}
