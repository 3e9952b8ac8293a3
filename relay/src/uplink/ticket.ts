import { Ticket } from '@juncta/contract/uplink';
import { createHmac, timingSafeEqual } from 'node:crypto';

/**
 * The ticket that a text carries; null when it was not signed with our secret, or its time has been over for `graceMs`.
 */
export function readTicket(text: string, secret: string, nowMs: number, graceMs = 0): Ticket | null {
  const [payload, signature] = text.split('.');
  if (!payload || !signature) return null;
  const given = Buffer.from(signature, 'base64url');
  const wanted = createHmac('sha256', secret).update(payload).digest();
  if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) return null;
  const parsed = Ticket.safeParse(JSON.parse(Buffer.from(payload, 'base64url').toString('utf8')));
  return parsed.success && parsed.data.expiresAtMs + graceMs > nowMs ? parsed.data : null;
}
