/** `npm run proof` runs the full counts; `npm test` a sample with a fixed seed. */
export declare const isProof: boolean;
export declare const proofSeed: number;
/** Leaves figures for docs/reliability.md, where they were counted in full. */
export declare function recordProof(name: string, figures: Readonly<Record<string, string | number>>): void;
