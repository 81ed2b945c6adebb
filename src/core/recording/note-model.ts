import { setWasmPaths } from '@tensorflow/tfjs-backend-wasm';
import { type GraphModel, loadGraphModel } from '@tensorflow/tfjs-converter';
import {
  getKernel,
  type KernelFunc,
  ready,
  registerKernel,
  setBackend,
  type Tensor,
  tensor3d,
  tidy,
  unregisterKernel,
} from '@tensorflow/tfjs-core';
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

let isReady: Promise<void> | null = null;

/** The runtime forgets the type of numbers with which it fills: they are fractions, all of them. */
function mendFill(): void {
  const kernel = getKernel('Fill', 'wasm');
  unregisterKernel('Fill', 'wasm');
  const kernelFunc: KernelFunc = (of) =>
    kernel.kernelFunc({ ...of, attrs: { ...of.attrs, dtype: of.attrs?.dtype ?? 'float32' } });
  registerKernel({ ...kernel, kernelFunc });
}

async function start(runtime: string): Promise<void> {
  setWasmPaths(runtime);
  await setBackend('wasm');
  await ready();
  mendFill();
}

/**
 * The model that hears several notes at once: R. Bittner and others, "A lightweight instrument-agnostic model for
 * polyphonic note transcription and multipitch estimation" (2022), as its package ships it.
 */
export async function loadNoteModel({ graph, weights, runtime }: ModelFiles): Promise<NoteModel> {
  isReady ??= start(runtime);
  await isReady;
  const model: GraphModel = await loadGraphModel({
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
      const outputs = tidy(
        () =>
          model.execute(tensor3d(samples, [1, MODEL_WINDOW, 1]), [
            'Identity_1',
            'Identity_2',
            'Identity',
          ]) as Tensor[],
      );
      const [frames, onsets, contours] = outputs.map((each) => each.dataSync() as Float32Array);
      for (const each of outputs) each.dispose();
      if (!frames || !onsets || !contours) throw new Error('The model is not the one that is known here.');
      return { frames, onsets, contours };
    },
  };
}
