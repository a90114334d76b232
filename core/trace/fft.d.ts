declare module 'fft.js' {
  /** Radix-4 transform of a power of two; complex arrays hold real and imaginary parts in turn. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    /** Fills the first half of `spectrum`. */
    realTransform(spectrum: number[] | Float64Array, input: ArrayLike<number>): void;
    transform(spectrum: number[] | Float64Array, input: ArrayLike<number>): void;
    completeSpectrum(spectrum: number[] | Float64Array): void;
  }
}
