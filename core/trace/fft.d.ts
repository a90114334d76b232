declare module 'fft.js' {
  /** Radix-4 transform of a power of two; complex arrays hold real and imaginary parts in turn. */
  class FFT {
    constructor(size: number);
    /** Fills the first half of `spectrum`. */
    realTransform(spectrum: Float64Array, input: Float64Array): void;
  }
  export = FFT;
}
