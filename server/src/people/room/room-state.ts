import type { RoomView } from '@juncta/contract/people';
import {
  isOwnedBy,
  needsAccepting,
  onAirSign,
  PROGRAMME_PUBLISHER,
  stillAsked,
  type Asked,
  type Offer,
  type OnStage,
  type Publisher,
} from '@juncta/core/people';
import type { FeedState } from '@juncta/core/feeds';
import { nameOf, type SourceId } from '@juncta/core/stage';

interface InRoom {
  offers: readonly Offer[];
  asked: readonly Asked[];
}

/**
 * What is known of one show's room: who is in and what they offer, what of it is wanted, what arrives, and what is on
 * stage. Without connections, and without memory beyond this process.
 */
export class RoomState {
  stage: readonly OnStage[] = [];
  private readonly people = new Map<string, InRoom>();
  private readonly accepted = new Set<SourceId>();
  /** Numbers of the connections that arrive. */
  private readonly arriving = new Map<Publisher, number>();

  /** Everything somebody has from now on, in the place of what they had. */
  offer(personId: string, offers: readonly Offer[]): void {
    const asked = this.people.get(personId)?.asked ?? [];
    this.people.set(personId, { offers, asked: stillAsked(asked, offers) });
    const ended = [...this.accepted].filter(
      (source) => isOwnedBy(source, personId) && !offers.some((one) => one.source === source),
    );
    for (const source of ended) this.accepted.delete(source);
  }

  /** Whoever left may come back: what was accepted of theirs stays so. */
  leave(personId: string): void {
    this.people.delete(personId);
  }

  isOffered(source: SourceId): boolean {
    return this.offersOf(nameOf(source).owner)?.some((one) => one.source === source) ?? false;
  }

  /** Nobody receives what waits for an answer. */
  isAccepted(source: SourceId): boolean {
    return !needsAccepting(source) || this.accepted.has(source);
  }

  accept(source: SourceId): void {
    if (this.isOffered(source)) this.accepted.add(source);
  }

  /** Told by a desk that was there before this process. What was ended meanwhile is not to come back by it. */
  remember(sources: readonly SourceId[]): void {
    for (const source of sources)
      if (this.isOffered(source) || !this.people.has(nameOf(source).owner)) this.accepted.add(source);
  }

  refuse(source: SourceId): void {
    this.accepted.delete(source);
  }

  ask(personId: string, what: Asked): void {
    const there = this.people.get(personId);
    if (!there || there.asked.includes(what)) return;
    there.asked = stillAsked([...there.asked, what], there.offers);
  }

  /** They will not, or the desk asks no longer. */
  answer(personId: string, what: Asked): void {
    const there = this.people.get(personId);
    if (there) there.asked = there.asked.filter((one) => one !== what);
  }

  arrives(publisher: Publisher, number: number): void {
    this.arriving.set(publisher, number);
  }

  /** @param number of the connection that ended: a later one is left alone */
  endsArriving(publisher: Publisher, number: number): void {
    if (this.arriving.get(publisher) === number) this.arriving.delete(publisher);
  }

  nothingArrives(): void {
    this.arriving.clear();
  }

  doesArrive(publisher: Publisher): boolean {
    return this.arriving.has(publisher);
  }

  /** @param feeds how the feeds of the show are */
  view(you: string | null, feeds: readonly FeedState[], media: boolean): RoomView {
    const people = [...this.people].map(([personId, { offers, asked }]) => ({
      personId,
      sources: offers.map((offer) => ({
        ...offer,
        publication: this.arriving.get(offer.source) ?? null,
        isAccepted: this.isAccepted(offer.source),
      })),
      asked,
      sign: onAirSign(
        this.stage.some(({ source }) => isOwnedBy(source, personId)),
        feeds,
      ),
    }));
    const programme = this.arriving.get(PROGRAMME_PUBLISHER) ?? null;
    return { you, people, stage: this.stage, programme, media };
  }

  private offersOf(personId: string): readonly Offer[] | undefined {
    return this.people.get(personId)?.offers;
  }
}
