import { fillIn, type Filled } from '../../listings';

/** What a text that the house keeps ready can leave to be filled in when it is written. */
export const CHAT_PLACEHOLDERS = ['title', 'guests', 'host', 'viewer'] as const;
export type ChatPlaceholder = (typeof CHAT_PLACEHOLDERS)[number];

/** What is known of a show when something is written. */
export interface WrittenAbout {
  readonly title: string;
  readonly people: readonly { readonly name: string; readonly part: string }[];
}

/**
 * A text with its placeholders filled in.
 *
 * @param viewer whoever is answered; null: it is written to everybody
 */
export function fillHouseText(
  text: string,
  { title, people }: WrittenAbout,
  viewer: string | null,
): Filled<ChatPlaceholder> {
  const named = (part: string) => people.flatMap((one) => (one.part === part ? one.name : []));
  return fillIn(text, {
    title,
    guests: listed(named('guest')),
    host: listed(named('host')),
    viewer,
  });
}

const listed = (names: readonly string[]): string | null => (names.length > 0 ? names.join(', ') : null);

/** When a text is written by itself: so many seconds before the planned start, or at that show time. */
export interface TextTime {
  readonly kind: 'before' | 'show';
  /** 0 to 24 hours. */
  readonly seconds: number;
}

/**
 * Whether a text is due. One for before the start is missed once the show is on: a welcome in its middle welcomes nobody.
 *
 * @param startsAtMs the planned start; null: there is none
 * @param showTimeMs null while no show runs
 */
export function textDue(
  { kind, seconds }: TextTime,
  startsAtMs: number | null,
  showTimeMs: number | null,
  nowMs: number,
): 'waits' | 'due' | 'missed' {
  if (kind === 'show') return showTimeMs !== null && showTimeMs >= seconds * 1000 ? 'due' : 'waits';
  if (showTimeMs !== null && showTimeMs > STARTED_MS) return 'missed';
  return startsAtMs !== null && nowMs >= startsAtMs - seconds * 1000 ? 'due' : 'waits';
}

/** The first words of a show still count as its start. */
const STARTED_MS = 60_000;
