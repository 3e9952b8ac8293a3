import * as z from 'zod';
import type { Target } from './connector';

/** As a place says it. One that says it otherwise has none: no feed is to fail for that. */
export const Embed = z.string().nullish().catch(null);

/** Of a player that a place serves; null: none, or an address that no page could show. */
export function embedUrl({ address }: Target, embed: string | null | undefined): string | null {
  if (embed == null || !URL.canParse(embed, address)) return null;
  const url = new URL(embed, address);
  return url.protocol === 'https:' || url.protocol === 'http:' ? url.href : null;
}
