import { VerovioToolkit } from 'verovio/esm';
import createVerovioModule from 'verovio/wasm';

let toolkit: VerovioToolkit | undefined;

/** One engraver for all tests of a file, since starting it takes most of a second. */
export async function engraver(): Promise<VerovioToolkit> {
  toolkit ??= new VerovioToolkit(await createVerovioModule());
  return toolkit;
}
