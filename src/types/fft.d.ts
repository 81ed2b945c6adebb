declare module 'fft.js' {
  /** Fast Fourier transform of a fixed power-of-two size. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    realTransform(out: number[], input: ArrayLike<number>): void;
  }
}
