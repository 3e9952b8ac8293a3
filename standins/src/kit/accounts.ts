import { serveConsent, type ConsentParts } from './consent';
import type { Place } from './place';
import type { Tokens } from './tokens';

/** The made-up owner's account at a place. Its lasting token may be known beforehand, by `<PLACE>_GRANT`. */
export function serveAccounts(place: Place, tokens: Tokens, parts: Omit<ConsentParts, 'tokens'>): void {
  const known = process.env[`${parts.place.toUpperCase()}_GRANT`];
  const [first] = parts.accounts;
  if (known && first) {
    const wish = { account: first.id, scopes: Object.keys(parts.scopes), widest: parts.widest[0] ?? null };
    tokens.grant(wish, known);
  }
  serveConsent(place.http, { ...parts, tokens });
}
