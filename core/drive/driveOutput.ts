/** What an output of a drive tells or switches. */
export const outputRoles = ['ready', 'alarm', 'brake', 'inPosition', 'homed', 'running', 'atSpeed', 'other'] as const;
export type OutputRole = (typeof outputRoles)[number];

/** An output of a drive, as its register map describes it. */
export interface DriveOutput {
  readonly key: string;
  readonly label: string;
  readonly role: OutputRole;
  /** Its bit in the register `outputStates`; 1: it is on, or its contact is closed. */
  readonly bit: number;
}
