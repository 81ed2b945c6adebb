import type { Tensor } from '@tensorflow/tfjs-core';
import { MODEL_WINDOW, type NoteModel } from './model-form';

/** The files of the model: its graph, its weights, and where its runtime lies, for `fetch` or as a folder, with a slash at its end. */
export interface ModelFiles {
  graph: {
    modelTopology: object;
    weightsManifest: { weights: object[] }[];
    format?: string;
    signature?: object;
  };
  weights: ArrayBuffer;
  runtime: string;
}

/** Its outputs: whether keys sound, whether they begin, and the picture of pitch. */
const OUTPUTS = ['Identity_1', 'Identity_2', 'Identity'];

/** Loaded by those alone who hear notes: the runtime is larger than all else together. */
async function start(runtime: string) {
  const [core, { loadGraphModel }, { setWasmPaths }] = await Promise.all([
    import('@tensorflow/tfjs-core'),
    import('@tensorflow/tfjs-converter'),
    import('@tensorflow/tfjs-backend-wasm'),
  ]);
  setWasmPaths(runtime);
  await core.setBackend('wasm');
  await core.ready();
  // The runtime forgets the type of numbers with which it fills: they are fractions, all of them.
  const fill = core.getKernel('Fill', 'wasm');
  core.unregisterKernel('Fill', 'wasm');
  core.registerKernel({
    ...fill,
    kernelFunc: (of) =>
      fill.kernelFunc({ ...of, attrs: { ...of.attrs, dtype: of.attrs?.dtype ?? 'float32' } }),
  });
  return { core, loadGraphModel };
}

let started: ReturnType<typeof start> | null = null;

/**
 * The model that hears several notes at once: R. Bittner and others, "A lightweight instrument-agnostic model for
 * polyphonic note transcription and multipitch estimation" (2022), as its package ships it.
 */
export async function loadNoteModel({ graph, weights, runtime }: ModelFiles): Promise<NoteModel> {
  started ??= start(runtime);
  const { core, loadGraphModel } = await started;
  const model = await loadGraphModel({
    load: async () => ({
      modelTopology: graph.modelTopology,
      weightSpecs: graph.weightsManifest.flatMap((each) => each.weights) as never,
      weightData: weights,
      format: graph.format,
      signature: graph.signature as never,
    }),
  });
  return {
    hear(samples) {
      const outputs = core.tidy(
        () => model.execute(core.tensor3d(samples, [1, MODEL_WINDOW, 1]), OUTPUTS) as Tensor[],
      );
      const [frames, onsets, contours] = outputs.map((each) => each.dataSync() as Float32Array);
      for (const each of outputs) each.dispose();
      if (!frames || !onsets || !contours) throw new Error('The model is not the one that is known here.');
      return { frames, onsets, contours };
    },
  };
}
