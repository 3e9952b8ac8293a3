import type { Ticket } from '@juncta/contract/relay';
import { createHmac } from 'node:crypto';

/** Longer than the longest show with its rehearsal: a desk must be able to come back without the server. */
export const TICKET_LIFE_MS = 26 * 3_600_000;

/** A ticket as it travels: what it says, and the signature that the relay checks. */
export function signTicket(ticket: Ticket, secret: string): string {
  const payload = Buffer.from(JSON.stringify(ticket)).toString('base64url');
  return `${payload}.${createHmac('sha256', secret).update(payload).digest('base64url')}`;
}
