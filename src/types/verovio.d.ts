declare module 'verovio/wasm' {
  const createVerovioModule: (options?: object) => Promise<object>;
  export default createVerovioModule;
}

declare module 'verovio/esm' {
  export const LOG_OFF: number;
  /** Of all that the module says from now on. */
  export function enableLog(level: number, module: object): boolean;
  export class VerovioToolkit {
    constructor(module: object);
    setOptions(options: Record<string, string | number | boolean | readonly string[]>): void;
    loadData(data: string): boolean;
    redoLayout(): void;
    renderToSVG(page: number): string;
    renderToMIDI(): string;
    getMEI(): string;
    getLog(): string;
  }
}
