import type { Connector } from '../connector';
import { placeAccounts, PlaceEvents } from '../place-events';
import { ShortTokens } from '../short-tokens';
import { PORCHWAY_RULES } from './rules';

/** Porchway: live posts on profile, pages and circles; public with the picture once the slot has come. */
const tokens = new ShortTokens();
const events = new PlaceEvents(tokens, { title: 'headline', description: 'body', startsAt: 'begins' });

export const porchway: Connector = {
  rules: PORCHWAY_RULES,
  arrival: 'public',
  booking: events.booking,
  accounts: placeAccounts(tokens, ['posts', 'comments']),
  open: (target, wish, ask) => events.open(target, wish, ask),
  look: (target, eventRef, ask) => events.look(target, eventRef, ask),
  publish: null,
  end: (target, eventRef, ask) => events.end(target, eventRef, ask),
  // Its comments come as server-sent events, which are not followed yet.
  chat: null,
};
