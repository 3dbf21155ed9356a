declare module "fft.js" {
  /** Radix-4 transform of one length, a power of two; complex numbers interleaved. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    /** Fills the first half and the middle; `completeSpectrum` fills the rest. */
    realTransform(out: ArrayLike<number>, input: ArrayLike<number>): void;
    completeSpectrum(spectrum: ArrayLike<number>): void;
    transform(out: ArrayLike<number>, input: ArrayLike<number>): void;
    inverseTransform(out: ArrayLike<number>, input: ArrayLike<number>): void;
  }
}
