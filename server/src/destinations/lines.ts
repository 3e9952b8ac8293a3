import {
  chooseRegion,
  measureRegions,
  revealKey,
  setEncoderLimit,
  testLine,
  type LineTest,
} from '@juncta/contract/destinations';
import type { LineTestReport } from '@juncta/contract/relay';
import { lineTestAt, lineTestFormat, openIngest } from '@juncta/core/destinations';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { badInput, notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { relayAway } from '../relay/relay-client';
import { isSendingTo } from '../feeds/store';
import { atPlace, placeRefusal } from './at-place';
import { connectorOf } from './connectors';
import { rulesOfRow } from './row-rules';
import * as store from './store';

const TEST_SECONDS = 5;
const TEST_TITLE = 'Line test';

/** The line to a destination: its key, its regions, and a test of it. */
export function mountLines(router: Router, app: App): void {
  const found = async (id: string): Promise<store.DestinationRow> => {
    const row = await store.findDestination(app.db, id);
    if (!row) throw notFound('destination');
    return row;
  };
  const described = async (id: string) => {
    await app.db.transaction((tx) => appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {}));
    const row = await found(id);
    return store.describe(row, rulesOfRow(app, row));
  };

  mount(router, app, setEncoderLimit, async ({ params: { destinationId }, body: { limit } }) => {
    const { kind, name } = await found(destinationId);
    if (kind !== 'custom_rtmp')
      throw new Refusal('not_ready', `${name} says itself what it takes, and that is followed.`);
    await store.changeDestination(app.db, destinationId, { encoderLimit: limit });
    return described(destinationId);
  });

  mount(router, app, revealKey, async ({ params: { destinationId }, memberId }) => {
    const row = await found(destinationId);
    if (row.secret === null || row.kind !== 'custom_rtmp')
      throw new Refusal('not_ready', `${row.name} gives its keys itself, a new one whenever one is needed.`);
    app.log.info({ destination: destinationId, member: memberId }, 'a key was shown');
    const ingest = openIngest(row.address, app.secrets.unlock(row.secret, row.id));
    // With something secret in its address the key alone is of no use: both, as they can be pasted again.
    return { key: ingest.address === row.address ? ingest.key : `${ingest.address}/${ingest.key}` };
  });

  mount(router, app, testLine, async ({ params: { destinationId }, body }) => {
    const row = await found(destinationId);
    const { capabilities, place } = rulesOfRow(app, row);
    switch (lineTestAt(capabilities.lineTest, row.placement?.kind ?? null)) {
      case 'no':
        throw new Refusal(
          'not_ready',
          `${place} shows what arrives there at once, so its line cannot be tried without viewers seeing it.`,
        );
      case 'ask':
        if (!body.sure)
          throw new Refusal(
            'not_ready',
            'Nobody can say whether viewers would see the test. It needs your word.',
          );
    }
    if (await isSendingTo(app.db, destinationId))
      throw new Refusal('not_ready', 'A show is being sent there just now. Its feed is the better test.');
    const lineTest = await tryLine(app, row);
    await store.changeDestination(app.db, destinationId, { lineTest });
    return described(destinationId);
  });

  const regionsOf = (row: store.DestinationRow) => {
    const { regions } = connectorOf(row.kind);
    if (!regions) throw new Refusal('not_ready', `${row.name} has no regions to choose from.`);
    return atPlace(app, row, (target) => regions(target, app.ask)).catch((error: unknown) => {
      throw placeRefusal(row.name, error, 'its regions are not known');
    });
  };

  mount(router, app, measureRegions, async ({ params: { destinationId } }) => {
    const row = await found(destinationId);
    const there = await regionsOf(row);
    const times = await relayOf(app).roundTrips(there.map(({ address }) => address));
    const regions = there.map(({ region }, i) => ({ region, roundTripMs: times[i] ?? null }));
    const reached = regions.filter(({ roundTripMs }) => roundTripMs !== null);
    const [first] = reached.sort((a, b) => a.roundTripMs! - b.roundTripMs!);
    const nearest = first?.region ?? null;
    // What was nearest stays so while nobody answers.
    if (nearest !== null) await store.changeDestination(app.db, destinationId, { nearestRegion: nearest });
    return { regions, chosen: row.region, nearest };
  });

  mount(router, app, chooseRegion, async ({ params: { destinationId }, body: { region } }) => {
    const there = await regionsOf(await found(destinationId));
    if (region !== null && !there.some((one) => one.region === region)) {
      const known = there.map((one) => one.region).join(', ');
      throw badInput([{ field: 'region', code: 'not_there', sentence: `It can be ${known}.` }]);
    }
    await store.changeDestination(app.db, destinationId, { region });
    return described(destinationId);
  });
}

const relayOf = (app: App) => {
  if (!app.relay) throw relayAway();
  return app.relay.client;
};

/** Sends the pattern, by an event of its own where the place has events, and takes that away again. */
async function tryLine(app: App, row: store.DestinationRow): Promise<LineTest> {
  const { capabilities } = rulesOfRow(app, row);
  const way = capabilities.lineTest;
  const connector = connectorOf(row.kind);
  const now = app.clock.now();
  const hidden = way.kind === 'hidden_event' ? way : null;
  if (row.lineTestEvent !== null) await takeAway(app, row, row.lineTestEvent);
  const draft = {
    title: TEST_TITLE,
    description: '',
    startsAtMs: hidden?.slotInMinutes == null ? null : now + hidden.slotInMinutes * 60_000,
    settings: hidden?.settings ?? {},
    reference: `line test ${randomUUID()}`,
    eventRef: null,
  };
  const opened = await atPlace(app, row, (target) => connector.open(target, draft, app.ask)).catch(
    (error: unknown) => {
      throw placeRefusal(row.name, error, 'its line was not tried');
    },
  );
  const { eventRef: lineTestEvent } = opened;
  // Kept first: whoever dies in the middle leaves an event that the next test takes away.
  if (lineTestEvent !== null) await store.changeDestination(app.db, row.id, { lineTestEvent });
  try {
    const report = await relayOf(app).testLine({
      ...opened.ingest,
      ...lineTestFormat(capabilities.encoder),
      seconds: TEST_SECONDS,
    });
    const { roundTripMs, kbps } = report;
    return {
      atMs: app.clock.now(),
      good: report.outcome === 'taken',
      sentence: sentenceOf(report, row.name),
      roundTripMs,
      kbps,
    };
  } finally {
    if (lineTestEvent !== null) await takeAway(app, row, lineTestEvent);
  }
}

async function takeAway(app: App, row: store.DestinationRow, eventRef: string): Promise<void> {
  const { booking } = connectorOf(row.kind);
  try {
    await atPlace(app, row, async (target) => booking?.cancel(target, eventRef, app.ask));
    await store.changeDestination(app.db, row.id, { lineTestEvent: null });
  } catch (error) {
    app.log.warn({ err: error, destination: row.id }, 'the event of a line test could not be taken away yet');
  }
}

function sentenceOf({ outcome, kbps, placeSays }: LineTestReport, name: string): string {
  const said = placeSays === null ? '' : ` It said: “${placeSays}”.`;
  switch (outcome) {
    case 'taken':
      return `${name} took the whole test, at ${kbps} kbit/s.`;
    case 'refused':
      return `${name} refused the stream.${said} Copy the address and the key once more from its own page.`;
    case 'cut_off':
      return `${name} took the stream and then let go of it.${said} Its limits may be lower than we know.`;
    case 'stalled':
      return `The line to ${name} does not carry the rate of a show. Try again, or send less.`;
    case 'no_answer':
      return `Nothing that takes feeds answers at the address of ${name}.${said} Look at the address, or ask the place.`;
    case 'busy':
      return `The relay has too much to do to try the line to ${name} just now. Try again when less is going on.`;
    case 'no_address':
      return `The address of ${name} is not one that feeds can go to. Copy it once more.`;
  }
}
