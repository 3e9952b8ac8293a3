import type { Connector } from '../connector';
import { placeAccounts, PlaceEvents } from '../place-events';
import { ShortTokens } from '../short-tokens';
import { GUILDROAD_RULES } from './rules';

/** Guildroad: broadcasts on pages, in a preview until they are published; soon thrown away when nobody comes. */
const tokens = new ShortTokens();
const events = new PlaceEvents(tokens, { title: 'subject', description: 'about', startsAt: 'slot' });

export const guildroad: Connector = {
  rules: GUILDROAD_RULES,
  arrival: 'held',
  booking: events.booking,
  accounts: placeAccounts(tokens, ['broadcasts', 'discussion']),
  open: (target, wish, ask) => events.open(target, wish, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: (target, eventRef, ask) => events.publish(target, eventRef, ask),
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  // What is written there comes in pages without a cursor, which are not followed yet.
  chat: null,
};
