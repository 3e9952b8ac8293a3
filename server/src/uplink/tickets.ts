import type { Ticket } from '@juncta/contract/uplink';
import { createHmac } from 'node:crypto';

/** A ticket as it travels: what it says, and the signature that the relay checks. */
export function signTicket(ticket: Ticket, secret: string): string {
  const payload = Buffer.from(JSON.stringify(ticket)).toString('base64url');
  return `${payload}.${createHmac('sha256', secret).update(payload).digest('base64url')}`;
}
