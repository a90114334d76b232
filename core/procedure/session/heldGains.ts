import { parameterOfRole, toRaw } from '../../drive/index.ts';
import type { SessionState } from './sessionState.ts';
import { settingsHere, type TemporarySetting } from './temporarySetting.ts';
import { tunedRoles } from './tunedRoles.ts';

/** Gains of a trial that the drive still holds. */
export function gainsOnTrial(state: SessionState): readonly TemporarySetting[] {
  const { profile } = state;
  const keys = tunedRoles.flatMap((role) => (profile && parameterOfRole(profile, role)?.key) ?? []);
  return settingsHere(state).filter(({ key }) => keys.includes(key));
}

/** Of those, the ones that the plan has taken over: nothing is to be put back. */
export const gainsKept = (state: SessionState): readonly TemporarySetting[] =>
  gainsOnTrial(state).filter(({ key, temporary }) => {
    const parameter = state.profile?.parameters.find((each) => each.key === key);
    const planned = state.plan?.planned[key];
    const raw = parameter && planned !== undefined ? toRaw(parameter, planned) : undefined;
    return raw !== undefined && 'raw' in raw && raw.raw === temporary;
  });
