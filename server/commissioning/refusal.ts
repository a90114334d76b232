/** A refusal that the screen shows; not a failure of ours. */
export class Refusal extends Error {}
