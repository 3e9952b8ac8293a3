import type { FeedState } from '../feeds';

/**
 * The room of a show: guests and desks, each sending and receiving picture and sound. Pure rules; whoever holds the
 * connections asks here.
 */

/** Under this name the composing desk sends the programme and what is heard at the desk. */
export const PROGRAMME_PUBLISHER = 'programme';

/** Who looks: a desk of the team, or a guest by their id in the show. */
export type RoomSeat = { readonly kind: 'desk' } | { readonly kind: 'guest'; readonly personId: string };

/**
 * Whether somebody may receive what `publisher` sends. Desks receive everybody. A guest receives the programme, and
 * the others on stage: their voices come straight from them, so that the guest never hears themselves.
 */
export function mayWatch(seat: RoomSeat, publisher: string, stage: readonly string[]): boolean {
  if (seat.kind === 'desk') return publisher !== PROGRAMME_PUBLISHER;
  if (publisher === PROGRAMME_PUBLISHER) return true;
  return publisher !== seat.personId && stage.includes(publisher);
}

/**
 * A personal link is used in one place at a time.
 * - `free`: nobody is there, or the same tab comes back after a reload
 * - `taken`: it is open elsewhere, and whoever asks has to say that they mean it
 * - `moves`: they said so; the other place is told
 */
export function enterBy(
  thereNow: string | null,
  placeId: string,
  takeOver: boolean,
): 'free' | 'taken' | 'moves' {
  if (thereNow === null || thereNow === placeId) return 'free';
  return takeOver ? 'moves' : 'taken';
}

export const ON_AIR_SIGNS = ['wings', 'stage', 'on_air'] as const;
/** What a guest is told of themselves: waiting; in the programme, which no viewer sees yet; seen and heard by viewers. */
export type OnAirSign = (typeof ON_AIR_SIGNS)[number];

const REACHING_VIEWERS: readonly FeedState[] = ['sending', 'on_air', 'recovering'];

/**
 * The sign for one person. `covered` and `slate` count as on air: the programme may come back at any moment, and
 * whoever believes themselves unheard then is heard. A feed that recovers counts for the same reason.
 */
export function onAirSign(onStage: boolean, feeds: readonly FeedState[]): OnAirSign {
  if (!onStage) return 'wings';
  return feeds.some((state) => REACHING_VIEWERS.includes(state)) ? 'on_air' : 'stage';
}
