declare module 'fft.js' {
  /** Fast Fourier transform of a fixed power-of-two size; complex numbers as pairs of real and imaginary part. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    /** Of real input; fills the first half of the spectrum. */
    realTransform(out: number[], input: ArrayLike<number>): void;
    /** The second half of a spectrum of real input, which mirrors the first. */
    completeSpectrum(spectrum: number[]): void;
    inverseTransform(out: number[], spectrum: ArrayLike<number>): void;
  }
}
