import type { Clock } from '@juncta/core/clock';
import type { Role } from '@juncta/core/team';
import { hashToken, newToken } from '../access/tokens';
import type { Queryable } from '../database/connect';
import { addInvitation } from './store';

const THREE_DAYS_MS = 3 * 24 * 3_600_000;

/** Makes an invitation. The token is told once, here; what is kept of it is a hash. */
export async function makeInvitation(db: Queryable, clock: Clock, role: Role, madeBy: string | null) {
  const token = newToken();
  const expiresAtMs = clock.now() + THREE_DAYS_MS;
  await addInvitation(db, { tokenHash: hashToken(token), role, madeBy, expiresAt: expiresAtMs });
  return { token, expiresAtMs };
}
