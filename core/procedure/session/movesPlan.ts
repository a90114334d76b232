/** Moves beside the test move, as planned; axis units, s, % of rated torque. null: not entered. */
export interface MovesPlan {
  readonly jogStep: number | null;
  readonly target: number | null;
  readonly by: number | null;
  readonly faster: {
    readonly from: number | null;
    readonly step: number | null;
    readonly to: number | null;
    readonly followingError: number | null;
    readonly torque: number | null;
  };
  readonly response: { readonly speed: number | null; readonly seconds: number | null };
  /** A set-point that waits; null: it does not. */
  readonly wait: { readonly speedGap: number | null; readonly positionGap: number | null };
  readonly press: {
    readonly speed: number | null;
    readonly torque: number | null;
    readonly travel: number | null;
    readonly seconds: number | null;
  };
  /** Hz; % and way of the excitation at most */
  readonly sweep: {
    readonly from: number | null;
    readonly to: number | null;
    readonly torque: number | null;
    readonly travel: number | null;
  };
}

/** A move that a window asks for; its values are those of the plan. */
export type MoveOrder =
  /** A small step from where it stands. */
  | { readonly kind: 'step'; readonly direction: 1 | -1 }
  /** To a position, or by a distance. */
  | { readonly kind: 'to' }
  | { readonly kind: 'by' }
  /** The test move back and forth, faster each time. */
  | { readonly kind: 'faster' }
  /** A speed demanded at once or along the ramp, and back to rest. */
  | { readonly kind: 'response'; readonly shape: 'step' | 'ramp'; readonly direction: 1 | -1 }
  /** A speed along the ramp whose set-point waits for an axis that is held. */
  | { readonly kind: 'wait'; readonly direction: 1 | -1 }
  /** A speed that swings faster and faster, to measure the frequency response. */
  | { readonly kind: 'sweep' }
  /** The test move with the planned gains and with those of the trial. `isMeant`: although the model does not call them stable. */
  | { readonly kind: 'trial'; readonly isMeant: boolean }
  /** Slowly until something holds it; held there, and back. */
  | { readonly kind: 'press'; readonly direction: 1 | -1 };
