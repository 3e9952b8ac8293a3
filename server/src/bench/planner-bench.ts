import { SLOW_MACHINE } from '@juncta/core/renditions';
import { bookListings } from '@juncta/contract/listings';
import { createShow } from '@juncta/contract/shows';
import { inheritedSettings } from '@juncta/core/listings';
import { launchSheet, readiness, type PlannedBroadcast } from '@juncta/core/readiness';
import { slotWindow } from '@juncta/core/schedule';
import { connectorOf } from '../destinations/connectors';
import { addHarbour, sendTo } from '../testing/destination';
import { FakeEventPlace } from '../testing/fake-event-place';
import { openHouse, showText } from '../testing/house';

/**
 * The planner's bench: readiness, launch sheet and windows for 1, 20 and 200 destinations, and booking eight of them at
 * places that take 300 ms for every answer. Prints its figures as one line of JSON. Wants JUNCTA_TEST_DATABASE_URL.
 */
const COUNTS = [1, 20, 200];
const ROUNDS = 200;
const PLACES = 8;
const ANSWER_MS = 300;
const HOUR_MS = 3_600_000;

const round = (value: number, digits = 3) => Math.round(value * 10 ** digits) / 10 ** digits;
const median = (values: readonly number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

function broadcast(count: number, startsAtMs: number): PlannedBroadcast {
  const kinds = ['kitefield', 'porchway', 'guildroad', 'emberplay'] as const;
  return {
    startsAtMs,
    pictureFormat: '720p30',
    machine: { cores: 1, cost: SLOW_MACHINE, isMeasured: false },
    plannedMinutes: 60,
    usualStartMinute: 19 * 60,
    startMinute: 7 * 60,
    startedAtMs: null,
    endedAtMs: null,
    archivedAtMs: null,
    inherited: inheritedSettings({}, [{}, { audience: 'general', captions: 'automatic' }]),
    atDeskMinutes: 40,
    listings: Array.from({ length: count }, (_, i) => ({
      destinationId: `destination ${i}`,
      rules: connectorOf(kinds[i % kinds.length]!).rules.capabilities,
      title:
        'A miller’s first hour: how flour is judged by hand, and by nose, and by the clock of the mill 🍞',
      description: 'Bring a spoonful of your own flour. '.repeat(40),
      unknownPlaceholders: [],
      emptyPlaceholders: [],
      slot: { kind: 'with_show' as const },
      picture: { width: 1920, height: 1080, crop: null },
      settings: { sponsored: true },
      state: 'draft' as const,
      bookedSlotMs: null,
      bookingDueMs: null,
      differs: [],
      account: 'good' as const,
      keyUsedBy: [],
    })),
  };
}

function timed(act: () => void): number {
  const times: number[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const from = performance.now();
    act();
    times.push(performance.now() - from);
  }
  return round(median(times));
}

async function book(): Promise<Record<string, number>> {
  const house = await openHouse();
  const places = await Promise.all(Array.from({ length: PLACES }, () => new FakeEventPlace().open()));
  try {
    const showId = crypto.randomUUID();
    const local = new Date(Date.now() + 48 * HOUR_MS).toISOString().slice(0, 16);
    const text = showText({ start: { local, zone: 'Etc/UTC', fold: 'earlier' } });
    await house.as.producer.get(createShow, { body: { id: showId, text } });
    const ids: string[] = [];
    for (const place of places) {
      place.answerAfterMs = ANSWER_MS;
      ids.push(await addHarbour(house, place.url));
    }
    const params = { showId };
    await sendTo(house, showId, ids);
    const body = { destinationIds: null, immediate: false };
    const press = async () => {
      const from = performance.now();
      const { outcomes } = await house.as.producer.get(bookListings, { params, body });
      if (!outcomes.every(({ done }) => done))
        throw new Error(`not all were booked: ${JSON.stringify(outcomes)}`);
      return Math.round(performance.now() - from);
    };
    return { book_eight_first_ms: await press(), book_eight_again_ms: await press() };
  } finally {
    await house.close();
    await Promise.all(places.map((place) => place.close()));
  }
}

const startsAtMs = Date.now() + 48 * HOUR_MS;
const figures: Record<string, number> = { place_answers_in_ms: ANSWER_MS };
for (const count of COUNTS) {
  const show = broadcast(count, startsAtMs);
  figures[`readiness_ms_${count}`] = timed(() => readiness(show, startsAtMs - HOUR_MS));
  figures[`launch_sheet_ms_${count}`] = timed(() => launchSheet(show, startsAtMs - HOUR_MS));
  figures[`windows_ms_${count}`] = timed(() =>
    show.listings.map(({ rules }) => slotWindow(startsAtMs, rules)),
  );
  figures[`findings_${count}`] = readiness(show, startsAtMs - HOUR_MS).length;
}
Object.assign(figures, await book());
console.log(JSON.stringify(figures));
