import * as Comlink from 'comlink';
import type { CoreApi } from './core.worker';
import type { EngraveApi } from './engrave.worker';
import type { RecordingApi } from './recording.worker';
import type { SoundApi } from './sound.worker';

export type Core = Comlink.Remote<CoreApi>;

/** A worker that does not answer for so long is dead; milliseconds. */
const DEAD_AFTER = 20_000;
const ASK_EVERY = 2_500;

/**
 * A core worker of its own for one job; `stop` ends it.
 * @param onDeath called once when it fails or no longer answers
 */
export function startCore(onDeath: () => void = () => {}): { core: Core; stop: () => void } {
  const worker = new Worker(new URL('./core.worker.ts', import.meta.url), { type: 'module' });
  const core = Comlink.wrap<CoreApi>(worker);
  let answered = Date.now();
  let asked = false;
  const stop = () => {
    clearInterval(timer);
    worker.terminate();
  };
  const die = () => {
    stop();
    onDeath();
  };
  const timer = setInterval(() => {
    if (asked && Date.now() - answered > DEAD_AFTER) return die();
    if (asked) return;
    asked = true;
    answered = Date.now();
    core.ping().then(
      () => {
        asked = false;
      },
      () => {},
    );
  }, ASK_EVERY);
  worker.addEventListener('error', die);
  worker.addEventListener('messageerror', die);
  return { core, stop };
}

/** A sound worker of its own; `stop` ends it. */
export function startSound(): { sound: Comlink.Remote<SoundApi>; stop: () => void } {
  const worker = new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' });
  return { sound: Comlink.wrap<SoundApi>(worker), stop: () => worker.terminate() };
}

/** A worker of its own that listens to a recording; `stop` ends it. */
export function startListening(): { listener: Comlink.Remote<RecordingApi>; stop: () => void } {
  const worker = new Worker(new URL('./recording.worker.ts', import.meta.url), { type: 'module' });
  return { listener: Comlink.wrap<RecordingApi>(worker), stop: () => worker.terminate() };
}

const engravers: (Comlink.Remote<EngraveApi> | null)[] = [];

/**
 * One of the engravers, started on first use and shared by all views, since starting one takes most of a second.
 * @param which from 0
 */
export function sharedEngraver(which = 0): Comlink.Remote<EngraveApi> {
  const known = engravers[which];
  if (known) return known;
  const worker = new Worker(new URL('./engrave.worker.ts', import.meta.url), { type: 'module' });
  // One that failed is not asked again: the next question starts another.
  worker.addEventListener('error', () => {
    worker.terminate();
    engravers[which] = null;
  });
  const made = Comlink.wrap<EngraveApi>(worker);
  engravers[which] = made;
  return made;
}

export { proxy, transfer } from 'comlink';
