declare module 'verovio/wasm' {
  const createVerovioModule: (options?: object) => Promise<unknown>;
  export default createVerovioModule;
}

declare module 'verovio/esm' {
  export class VerovioToolkit {
    constructor(module: unknown);
    setOptions(options: Record<string, string | number | boolean>): void;
    loadData(data: string): boolean;
    renderToSVG(page: number): string;
    renderToMIDI(): string;
    getPageCount(): number;
    getLog(): string;
    getVersion(): string;
  }
}
