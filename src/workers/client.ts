import * as Comlink from 'comlink';
import type { CoreApi } from './core.worker';
import type { EngraveApi } from './engrave.worker';
import type { SoundApi } from './sound.worker';

/** A core worker of its own for one job; `stop` ends it. */
export function startCore(): { core: Comlink.Remote<CoreApi>; stop: () => void } {
  const worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' });
  return { core: Comlink.wrap<CoreApi>(worker), stop: () => worker.terminate() };
}

/** A sound worker of its own; `stop` ends it. */
export function startSound(): { sound: Comlink.Remote<SoundApi>; stop: () => void } {
  const worker = new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' });
  return { sound: Comlink.wrap<SoundApi>(worker), stop: () => worker.terminate() };
}

let engraver: Comlink.Remote<EngraveApi> | null = null;

/** The engraver, started on first use and shared by all views, since starting it takes most of a second. */
export function sharedEngraver(): Comlink.Remote<EngraveApi> {
  engraver ??= Comlink.wrap<EngraveApi>(
    new Worker(new URL('./engrave.worker.ts', import.meta.url), { type: 'module' }),
  );
  return engraver;
}

export { proxy } from 'comlink';
