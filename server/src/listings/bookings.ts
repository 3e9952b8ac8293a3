import type { ListingOutcome } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import { differences, type SettingId, type SettingValues } from '@juncta/core/listings';
import { bookingTime, slotAt, slotWindow } from '@juncta/core/schedule';
import type { App } from '../app';
import { PlaceRefused } from '../destinations/ask-place';
import { atPlace, placeRefusal } from '../destinations/at-place';
import { connectorOf, type ListingDraft, type RemoteListing } from '../destinations/connectors';
import { raiseAlarm } from '../destinations/house-rules';
import { Refusal } from '../http/errors';
import { sendPictureTo } from './pictures';
import { change, textProblem, draftFor } from './at-place';
import { dropJobs, wantJob } from './wanted-jobs';
import * as store from './store';
import type { ListingAt } from './store';

/** Events that are made at places ahead of their time. Each listing for itself; all of it may be repeated. */

/** What was just written may be read as it was for a while: looked at once that is over. */
const READ_BACK_AFTER_MS = 15_000;
/** A lapse is looked for this long after its time. */
const LAPSE_LOOK_AFTER_MS = 30_000;

/** @param immediate without a slot, whatever the plan says */
export async function bookOne(
  app: App,
  show: Show,
  at: ListingAt,
  immediate: boolean,
): Promise<ListingOutcome> {
  const { booking } = connectorOf(at.destination.kind);
  if (show.endedAtMs !== null) return told(at, 'The show is over. Nothing was booked.');
  // Texts and settings can still be written anew, to where its feed goes.
  if (at.listing.listingState === 'open') return pushOne(app, show, at);
  if (at.listing.listingState === 'ending')
    return told(at, `The event before is still being ended at ${at.destination.name}. Nothing was booked.`);
  if (!booking)
    return told(
      at,
      `${at.destination.name} cannot be booked: it begins with its feed. It is on the launch sheet.`,
    );
  const startsAtMs = immediate ? null : slotAt(at.listing.slot, show.startsAtMs);
  if (!immediate) {
    const early = await notYet(app, at, startsAtMs);
    if (early !== null) return told(at, early);
  }
  const { showId, destinationId } = at.listing;
  const isOver = at.listing.listingState === 'lapsed' || at.listing.listingState === 'closed';
  const draft = await draftFor(app, show, at, startsAtMs);
  const problem = textProblem(app, draft, at.destination);
  if (problem !== null) return fail(app, at, `${problem} Nothing was booked there.`);
  return tryThere(app, at, 'nothing was booked there', async () => {
    const there = await atPlace(app, at.destination, (target) =>
      booking.book(target, isOver ? { ...draft, eventRef: null } : draft, app.ask),
    );
    await keep(app, at, draft, there);
    await giveThePicture(app, at, there.eventRef);
    const nowMs = app.clock.now();
    await wantJob(app.db, { showId, destinationId, job: 'look', dueAt: nowMs + READ_BACK_AFTER_MS });
  });
}

/** The event is there all the same: what is wrong with its picture stands beside it. */
async function giveThePicture(app: App, at: ListingAt, eventRef: string): Promise<void> {
  const problem = await sendPictureTo(app, at, eventRef);
  const { showId, destinationId } = at.listing;
  if (problem !== null) await change(app, showId, destinationId, { problem });
}

/** Sends texts and settings to an event whose feed has begun; what the place settles before that stays. */
async function pushOne(app: App, show: Show, at: ListingAt): Promise<ListingOutcome> {
  const connector = connectorOf(at.destination.kind);
  const draft = onAirPart(app, at, await draftFor(app, show, at, at.listing.bookedSlot));
  const problem = textProblem(app, draft, at.destination);
  if (problem !== null) return fail(app, at, `${problem} Nothing was changed there.`);
  return tryThere(app, at, 'nothing was changed there', async () => {
    const { booking } = connector;
    if (booking)
      await keep(
        app,
        at,
        draft,
        await atPlace(app, at.destination, (target) => booking.book(target, draft, app.ask)),
      );
    else {
      // Where a show is the channel itself, it is set once more.
      await atPlace(app, at.destination, (target) => connector.open(target, draft, app.ask));
      const { title, description, startsAtMs, settings } = draft;
      const { showId, destinationId } = at.listing;
      await change(app, showId, destinationId, {
        sent: { title, description, startsAtMs, settings },
        problem: null,
      });
    }
  });
}

/** Without the settings that this place does not change on air: those it keeps as they were sent. */
function onAirPart(app: App, { listing, destination }: ListingAt, draft: ListingDraft): ListingDraft {
  const settled = app.rules
    .of(destination.kind)
    .capabilities.settings.filter(({ onAir }) => !onAir)
    .map(({ id }) => id);
  const of = (values: SettingValues, settles: boolean) =>
    Object.entries(values).filter(([id]) => settled.includes(id as SettingId) === settles);
  const settings = Object.fromEntries([
    ...of(draft.settings, false),
    ...of(listing.sent?.settings ?? {}, true),
  ]) as SettingValues;
  return { ...draft, settings };
}

export async function cancelOne(app: App, at: ListingAt): Promise<ListingOutcome> {
  const { showId, destinationId, eventRef, listingState } = at.listing;
  // A feed goes there, or went there: that is ended, and not cancelled.
  if (listingState === 'open' || listingState === 'ending' || listingState === 'closed')
    return told(at, 'Its feed has begun. It is ended at the desk.');
  await dropJobs(app.db, showId, destinationId);
  const { booking } = connectorOf(at.destination.kind);
  if (!booking || eventRef === null) {
    await change(app, showId, destinationId, { bookingDue: null });
    return { destinationId, done: true, sentence: null };
  }
  return tryThere(app, at, 'it is still booked there', async () => {
    await atPlace(app, at.destination, (target) => booking.cancel(target, eventRef, app.ask));
    await change(app, showId, destinationId, { ...NOTHING_THERE, listingState: 'draft' });
  });
}

/** Looks at what is there now, and compares it with what we sent. */
export async function lookOne(app: App, at: ListingAt): Promise<ListingOutcome> {
  const { showId, destinationId, eventRef, listingState } = at.listing;
  const { booking } = connectorOf(at.destination.kind);
  if (!booking || eventRef === null || (listingState !== 'booked' && listingState !== 'open'))
    return { destinationId, done: true, sentence: null };
  return tryThere(app, at, 'it could not be looked at', async () => {
    const there = await atPlace(app, at.destination, (target) => booking.find(target, eventRef, app.ask));
    const { name } = at.destination;
    if (there === null)
      await change(app, showId, destinationId, {
        ...NOTHING_THERE,
        listingState: 'lapsed',
        problem: `The event was deleted at ${name}, and not by us.`,
      });
    else if (there.state === 'lapsed')
      await change(app, showId, destinationId, {
        listingState: 'lapsed',
        bookedSlot: null,
        problem: `${name} threw the event away: nothing had arrived in time.`,
      });
    else if (listingState === 'booked') await keep(app, at, at.listing.sent, there);
  });
}

const NOTHING_THERE = {
  bookingDue: null,
  eventRef: null,
  pageUrl: null,
  embedUrl: null,
  bookedSlot: null,
  sent: null,
  differs: [],
  problem: null,
};

export async function keep(
  app: App,
  { listing: { showId, destinationId }, destination }: ListingAt,
  told: Pick<ListingDraft, 'title' | 'description' | 'startsAtMs' | 'settings'> | null,
  there: RemoteListing,
): Promise<void> {
  const sent = told && {
    title: told.title,
    description: told.description,
    startsAtMs: told.startsAtMs,
    settings: told.settings,
  };
  await change(app, showId, destinationId, {
    listingState: store.BOOKED_UNLESS_OPEN,
    eventRef: there.eventRef,
    pageUrl: there.pageUrl,
    embedUrl: there.embedUrl,
    bookedSlot: there.startsAtMs,
    bookingDue: null,
    sent,
    differs: sent ? differences(sent, there) : [],
    problem: null,
  });
  const { lateStart } = app.rules.of(destination.kind).capabilities;
  if (there.startsAtMs === null || lateStart.kind !== 'lapses') return;
  const dueAt = there.startsAtMs + lateStart.afterMinutes * 60_000 + LAPSE_LOOK_AFTER_MS;
  await wantJob(app.db, { showId, destinationId, job: 'lapse_look', dueAt });
}

/** Why it cannot be booked just now; null: it can. What is too early is booked by itself when its time comes. */
async function notYet(app: App, at: ListingAt, slotMs: number | null): Promise<string | null> {
  const { listing, destination } = at;
  if (slotMs === null) return 'The show has no start yet. Nothing was booked.';
  // A slot that stands already can still have its texts changed.
  if (listing.listingState === 'booked' && listing.bookedSlot === slotMs) return null;
  const window = slotWindow(slotMs, app.rules.of(destination.kind).capabilities);
  switch (bookingTime(window, app.clock.now())) {
    case 'too_early': {
      const { showId, destinationId } = listing;
      const dueAt = window.earliestBookingMs!;
      await wantJob(app.db, { showId, destinationId, job: 'book', dueAt });
      await change(app, showId, destinationId, { bookingDue: dueAt, problem: null });
      return `${destination.name} takes bookings for this slot later. It is booked by itself as soon as that begins.`;
    }
    case 'too_late':
      return `It is too late to book this slot at ${destination.name}. Book it without a slot, or move it.`;
    default:
      return null;
  }
}

async function tryThere(
  app: App,
  at: ListingAt,
  so: string,
  act: () => Promise<void>,
): Promise<ListingOutcome> {
  try {
    await act();
    return { destinationId: at.listing.destinationId, done: true, sentence: null };
  } catch (error) {
    if (error instanceof PlaceRefused && error.wrong?.limit != null && isText(error.wrong.field))
      await raiseAlarm(app, at.destination.kind, error.wrong.field, error.wrong.limit);
    const refusal = placeRefusal(at.destination.name, error, so);
    if (!(refusal instanceof Refusal)) throw refusal;
    return fail(app, at, refusal.sentence);
  }
}

const isText = (field: string): field is 'title' | 'description' =>
  field === 'title' || field === 'description';

/** Kept where the listing is, so that it is still there after a reload. */
async function fail(app: App, at: ListingAt, sentence: string): Promise<ListingOutcome> {
  const { showId, destinationId } = at.listing;
  await change(app, showId, destinationId, { problem: sentence });
  return told(at, sentence);
}

const told = ({ listing }: ListingAt, sentence: string): ListingOutcome => ({
  destinationId: listing.destinationId,
  done: false,
  sentence,
});
