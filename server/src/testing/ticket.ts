import { Ticket } from '@juncta/contract/uplink';

/** What a ticket says; its signature is the relay's to check. */
export const readTicket = (text: string): Ticket =>
  Ticket.parse(JSON.parse(Buffer.from(text.split('.')[0]!, 'base64url').toString()));
