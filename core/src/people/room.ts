import type { FeedState } from '../feeds';
import { nameOf, type DeviceFate, type SourceId } from '../stage';

/**
 * The room of a show: guests and desks, each sending and receiving video and audio. Pure rules; whoever holds the
 * connections asks here.
 */

/** Under this name the composing desk sends the programme and what is heard at the desk. */
export const PROGRAMME_PUBLISHER = 'programme';

/** What comes into the room over one connection: the programme, or a source of a guest. */
export type Publisher = typeof PROGRAMME_PUBLISHER | SourceId;

/** Who looks: a desk of the team, or a guest by their id in the show. */
export type RoomSeat = { readonly kind: 'desk' } | { readonly kind: 'guest'; readonly personId: string };

/** A source that a guest has for the show, and how it is with it. */
export interface Offer {
  readonly source: SourceId;
  readonly video: DeviceFate;
  readonly audio: DeviceFate;
}

/** A source on programme, as its owner is to know of it. */
export interface OnStage {
  readonly source: SourceId;
  /** False: the desk has turned its picture off, or the layout has no place for it. */
  readonly isSeen: boolean;
  readonly isHeard: boolean;
}

/** A guest has so many cameras, and so many screens, at the most. */
export const MOST_OF_A_KIND = 3;

/**
 * Whether somebody may receive what `publisher` sends. Desks receive everybody. A guest receives the programme, and the
 * others on stage: their voices come straight from them, so that the guest never hears themselves.
 */
export function mayWatch(seat: RoomSeat, publisher: Publisher, stage: readonly OnStage[]): boolean {
  if (publisher === PROGRAMME_PUBLISHER) return seat.kind === 'guest';
  if (seat.kind === 'desk') return true;
  return (
    !isOwnedBy(publisher, seat.personId) &&
    stage.some(({ source, isHeard }) => source === publisher && isHeard)
  );
}

/** Whether somebody may send under this name: guests what is theirs; which desk composes is asked elsewhere. */
export function maySend(seat: RoomSeat, publisher: Publisher): boolean {
  if (seat.kind === 'desk' || publisher === PROGRAMME_PUBLISHER)
    return seat.kind === 'desk' && publisher === PROGRAMME_PUBLISHER;
  const { kind, number } = nameOf(publisher);
  return kind !== 'overlay' && number <= MOST_OF_A_KIND && isOwnedBy(publisher, seat.personId);
}

/** Somebody's first camera is why they came. Whatever else they have waits until a desk accepts it. */
export const needsAccepting = (source: SourceId): boolean => {
  const { kind, number } = nameOf(source);
  return kind !== 'camera' || number > 1;
};

export const isOwnedBy = (source: SourceId, personId: string): boolean => nameOf(source).owner === personId;

/** What a desk can ask of a guest, who does it or does not: nobody's microphone is opened from elsewhere. */
export const ASKABLE = ['audio', 'video', 'screen'] as const;
export type Asked = (typeof ASKABLE)[number];

/** What was asked of somebody and has not come about. */
export function stillAsked(asked: readonly Asked[], offers: readonly Offer[]): readonly Asked[] {
  const isDone: Record<Asked, (offer: Offer) => boolean> = {
    audio: (offer) => nameOf(offer.source).kind === 'camera' && flows(offer.audio),
    video: (offer) => nameOf(offer.source).kind === 'camera' && flows(offer.video),
    screen: (offer) => nameOf(offer.source).kind === 'screen',
  };
  return asked.filter((what) => !offers.some(isDone[what]));
}

/** Whether something is seen or heard of it. */
export const flows = (fate: DeviceFate): boolean => fate === 'there' || fate === 'replaced';

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
export function onAirSign(isOnStage: boolean, feeds: readonly FeedState[]): OnAirSign {
  if (!isOnStage) return 'wings';
  return feeds.some((state) => REACHING_VIEWERS.includes(state)) ? 'on_air' : 'stage';
}
