import { bookListings, readListings, saveListing, type Listing } from '@juncta/contract/listings';
import { createShow, listShows, saveShow, type Show } from '@juncta/contract/shows';
import { addAccount, addHarbour, sendTo } from './destination';
import { FakeEventPlace } from './fake-event-place';
import { showText, type House } from './house';

const DAY = 24 * 60 * 60_000;
/** Slots are reckoned from one instant: a minute may end in the middle of a spec. */
const BEGAN_MS = Date.now();

/** A show's text whose start is so many days ahead, to the minute. */
export function inDays(days: number) {
  const local = new Date(BEGAN_MS + days * DAY).toISOString().slice(0, 16);
  return showText({ start: { local, zone: 'Etc/UTC', fold: 'earlier' } });
}
export const slotOf = (days: number): number => Date.parse(`${inDays(days).start!.local}Z`);

/** A show in three days that goes to one place with events, of its own. */
export class PlannedShow {
  private constructor(
    private readonly house: House,
    readonly place: FakeEventPlace,
    readonly showId: string,
    readonly accountId: string,
    readonly destinationId: string,
  ) {}

  static async plan(house: House): Promise<PlannedShow> {
    const place = await new FakeEventPlace().open();
    const showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: inDays(3) } });
    const accountId = await addAccount(house, place.url);
    const destinationId = await addHarbour(house, place.url, accountId);
    await sendTo(house, showId, [destinationId]);
    return new PlannedShow(house, place, showId, accountId, destinationId);
  }

  get params() {
    return { showId: this.showId };
  }

  async book(immediate = false) {
    const { outcomes } = await this.house.as.producer.get(bookListings, {
      params: this.params,
      body: { destinationIds: null, immediate },
    });
    return outcomes[0]!;
  }

  async listing(): Promise<Listing> {
    return (await this.house.as.host.get(readListings, { params: this.params })).listings[0]!;
  }

  /** Changes the listing; gives the whole answer. */
  set(body: object) {
    const { showId, destinationId } = this;
    return this.house.as.producer.ask(saveListing, { params: { showId, destinationId }, body });
  }

  async move(days: number): Promise<void> {
    const { version } = await this.shown();
    await this.house.as.producer.get(saveShow, {
      params: this.params,
      body: { version, text: inDays(days) },
    });
  }

  async shown(): Promise<Show> {
    return (await this.house.as.producer.get(listShows)).shows.find(({ id }) => id === this.showId)!;
  }
}
