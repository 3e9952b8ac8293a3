import type { HouseRules } from '@juncta/contract/destinations';
import type { App } from '../app';
import type { DestinationRow } from './store';

/** The house rules of one destination: those of its kind, and what the team says of this one. */
export function rulesOfRow(
  { rules }: Pick<App, 'rules'>,
  { kind, encoderLimit }: Pick<DestinationRow, 'kind' | 'encoderLimit'>,
): HouseRules {
  const known = rules.of(kind);
  if (!encoderLimit) return known;
  const encoder = { ...known.capabilities.encoder, ...encoderLimit };
  return { ...known, capabilities: { ...known.capabilities, encoder } };
}
