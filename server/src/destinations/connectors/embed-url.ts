import type { Target } from './connector';

/** Of a player that a place serves; null: none, or an address that no page could show. */
export function embedUrl({ address }: Target, embed: string | null | undefined): string | null {
  if (embed == null || !URL.canParse(embed, address)) return null;
  const url = new URL(embed, address);
  return url.protocol === 'https:' || url.protocol === 'http:' ? url.href : null;
}
