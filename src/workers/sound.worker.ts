import { Zip, ZipPassThrough } from 'fflate';
import type { Timeline } from '../core/sound/events';
import { flacFile, loadFlac } from '../core/sound/flac';
import { BadBankError, type Level, readBank } from '../core/sound/render';
import { type SoundForm, wavFile } from '../core/sound/sound-file';
import { fileNamesOf, type Stem, type StemsChoice, type StemsMade } from '../core/sound/stem-choice';
import { renderStems } from '../core/sound/stems';
import { serve } from './serve';

/** Milliseconds between two words on progress. */
const EVERY = 100;
/** Bytes of a file that are kept in memory; what is longer the browser keeps where it likes. */
const IN_MEMORY = 4_000_000;
/** The share of the work that is done when all is rendered and nothing is packed. */
const RENDERED = 0.92;

/** A file that grows, and is not kept in memory. */
class Growing {
  private readonly kept: Blob[] = [];
  private fresh: BlobPart[] = [];
  private size = 0;
  head: BlobPart | null = null;

  add(bytes: Uint8Array): void {
    this.fresh.push(bytes as BlobPart);
    this.size += bytes.length;
    if (this.size < IN_MEMORY) return;
    this.kept.push(new Blob(this.fresh));
    this.fresh = [];
    this.size = 0;
  }

  whole(): Blob {
    return new Blob([...(this.head ? [this.head] : []), ...this.kept, ...this.fresh]);
  }
}

/** Files as they are in one zip: sound does not get smaller. */
async function packed(files: readonly { path: string; content: Blob }[], onFile: () => void): Promise<Blob> {
  const out = new Growing();
  const zip = new Zip((error, bytes) => {
    if (error) throw error;
    out.add(bytes);
  });
  for (const { path, content } of files) {
    const entry = new ZipPassThrough(path);
    zip.add(entry);
    const reader = content.stream().getReader();
    for (;;) {
      const { done, value } = await reader.read();
      entry.push(value ?? new Uint8Array(0), done);
      if (done) break;
    }
    onFile();
  }
  zip.end();
  return out.whole();
}

/** Sound that was rendered: one file, or a zip of several. */
export interface RenderedSound {
  content: Blob;
  made: StemsMade;
}

const api = {
  /** Whether a file is a sound bank that can be played. @returns its name, or a sentence that says why not */
  check(bytes: Uint8Array): { name: string } | { refused: string } {
    try {
      const bank = readBank(bytes.slice().buffer as ArrayBuffer);
      return { name: bank.soundBankInfo.name.trim() };
    } catch (error) {
      if (error instanceof BadBankError) return { refused: error.message };
      throw error;
    }
  },

  /** Plays a timeline into sound files, of which several become one zip; ended early by ending the worker. */
  async render(
    bytes: ArrayBuffer,
    timeline: Timeline,
    stems: readonly Stem[],
    choice: StemsChoice,
    levels: ReadonlyMap<string, Level>,
    onProgress: (share: number) => void,
  ): Promise<RenderedSound> {
    const flac = choice.format === 'flac' ? await loadFlac() : null;
    const fileOf = (form: SoundForm) => (flac ? flacFile(flac, form) : wavFile(form));
    const files: Growing[] = [];
    const fileAt = (at: number): Growing => {
      files[at] ??= new Growing();
      return files[at];
    };
    const steps = renderStems(readBank(bytes), timeline, stems, choice, levels, fileOf, {
      begin: () => void files.splice(0),
      drop: (at) => void files.splice(at, 1),
      add: (at, more) => fileAt(at).add(more),
      head: (at, head) => {
        fileAt(at).head = head as BlobPart;
      },
    });
    let since = Date.now();
    for (;;) {
      const step = steps.next();
      if (step.done) {
        const made = step.value;
        const paths = fileNamesOf(made, choice);
        const whole = paths.map((path, at) => ({ path, content: fileAt(at).whole() }));
        const [only, ...others] = whole;
        if (only && others.length === 0) return { content: only.content, made };
        let done = 0;
        const onFile = () => onProgress(RENDERED + ((1 - RENDERED) * ++done) / whole.length);
        return { content: await packed(whole, onFile), made };
      }
      if (Date.now() - since < EVERY) continue;
      onProgress(step.value * RENDERED);
      since = Date.now();
    }
  },
};

export type SoundApi = typeof api;

serve(api);
