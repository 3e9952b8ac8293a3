import type { App } from '../app';
import { appendEvent } from '../events/store';
import { commonRules, resolveStart, wallTimeAt } from '@juncta/core/schedule';
import type { Transaction } from '../database/connect';
import {
  findShow,
  insertShow,
  addSeries,
  setRecurrence,
  setArchived,
  setProgrammeTimes,
  updateShow,
} from '../shows/store';
import { addMember, findMember } from '../team/store';
import { findAccount, keepAccount, moveAccounts } from '../destinations/accounts-store';
import { addDestination, changeDestination, setShowDestinations } from '../destinations/store';
import { changeDefaults } from '../listings/house-defaults';
import { putDressing } from '../dressing/store';
import { seedOverlays } from './overlays';
import { changeListing } from '../listings/store';
import { fillFinished } from './finished';
import { DEMO_POSTERS, hangPoster } from './posters';
import {
  DEMO_ACCOUNTS,
  DEMO_DEFAULTS,
  DEMO_DESTINATIONS,
  DEMO_DRESSINGS,
  DEMO_LISTINGS,
  DEMO_MEMBERS,
  DEMO_ROUTES,
  DEMO_SERIES,
  DEMO_SHOWS,
  FINISHED_SHOW,
  TEO,
  ZONE,
  type DemoShow,
} from './scenario';

const MINUTE = 60_000;
/** The ready show starts this long after the demo does: time to look around first. */
const READY_IN_MS = 25 * MINUTE;
/** Not started by then, it is made ready anew when the demo is next started. */
const READY_LAPSES_MS = 30 * MINUTE;

/**
 * Fills an empty house with the made-up team and its shows; in one that has them, makes the show that is ready to
 * go on air ready again, if its time went by. Touches nothing else, so that what was tried out stays.
 */
export async function refreshDemo(app: App): Promise<void> {
  const now = app.clock.now();
  await app.db.transaction(async (tx) => {
    if (!(await findMember(tx, TEO))) await fill(tx, app, now);
    else await makeReadyAgain(tx, app, now);
    await connectPlaces(tx, app, now);
  });
}

/** The stand-in places have other addresses at every start. */
async function connectPlaces(tx: Transaction, app: App, now: number): Promise<void> {
  const places = app.config.demoPlaces;
  for (const account of DEMO_ACCOUNTS) {
    const place = places[account.kind];
    if (!place) continue;
    await moveAccounts(tx, account.kind, place.url);
    const known = await findAccount(tx, account.id);
    if (known) continue;
    await keepAccount(tx, {
      ...account,
      scopes: [...account.scopes],
      placeAccountId: 'millrace',
      name: 'Millrace Flour & Baking School',
      address: place.url,
      secret: app.secrets.lock(place.grant, account.id),
      lostAt: null,
      connectedAt: now,
    });
  }
  const there = DEMO_DESTINATIONS.filter(({ kind }) => places[kind]);
  let isNew = false;
  for (const { page, ...values } of there) {
    const address = places[values.kind]!.url;
    const pageUrl = new URL(page, address).href;
    const row = { ...values, address, pageUrl, secret: null, addedAt: now };
    if (await addDestination(tx, row)) isNew = true;
    else
      await changeDestination(tx, values.id, {
        address,
        pageUrl,
        accountId: values.accountId,
        placement: values.placement,
        secret: null,
      });
  }
  if (!isNew) return;
  await changeDefaults(tx, null, DEMO_DEFAULTS, undefined);
  const known = new Set<string>(there.map(({ id }) => id));
  for (const { showId, to } of DEMO_ROUTES)
    await setShowDestinations(
      tx,
      showId,
      to.filter((id) => known.has(id)),
    );
  for (const { showId, destinationId, values } of DEMO_LISTINGS)
    if (known.has(destinationId)) await changeListing(tx, showId, destinationId, values);
  const finished = await findShow(tx, FINISHED_SHOW);
  if (finished?.startedAtMs == null || finished.endedAtMs === null) return;
  const lengthMs = finished.endedAtMs - finished.startedAtMs;
  const carried = DEMO_ROUTES.find(({ showId }) => showId === FINISHED_SHOW)!.to;
  const channels = there.filter(({ id }) => carried.includes(id));
  await fillFinished(tx, FINISHED_SHOW, finished.startedAtMs, lengthMs, channels);
}

async function fill(tx: Transaction, app: App, now: number): Promise<void> {
  for (const member of DEMO_MEMBERS) await addMember(tx, { ...member, passwordHash: null, joinedAt: now });
  for (const { id, name } of DEMO_SERIES) await addSeries(tx, { id, name });
  for (const { scope, dressing } of DEMO_DRESSINGS)
    await putDressing(tx, scope, { ...dressing, overlays: await seedOverlays(tx, scope, now) });
  for (const demo of DEMO_SHOWS) {
    const start = demo.when && startOf(demo.when, now);
    const startsAtMs = start && instantOf(start);
    await insertShow(tx, {
      id: demo.id,
      version: 1,
      text: { ...demo.text, start },
      startsAtMs,
      editedAtMs: now - demo.editedAgoMinutes * MINUTE,
      editedBy: demo.editedBy,
    });
    if (demo.ran && startsAtMs !== null) {
      const startedAt = startsAtMs + demo.ran.lateMs;
      await setProgrammeTimes(tx, demo.id, { startedAt, endedAt: startedAt + demo.ran.lengthMs });
    }
    if (demo.archived) {
      await setArchived(tx, demo.id, { archivedAt: now, version: 2, editedAt: now, editedBy: TEO });
    }
  }
  for (const series of DEMO_SERIES) {
    const like = DEMO_SHOWS[(series.everyWeekLike ?? 0) - 1]?.when;
    if (!like) continue;
    const start = startOf(like, now);
    await setRecurrence(tx, series.id, { rule: commonRules(start.local).weekly, start });
  }
  for (const demo of DEMO_POSTERS) await hangPoster(tx, demo);
}

async function makeReadyAgain(tx: Transaction, app: App, now: number): Promise<void> {
  const { id } = DEMO_SHOWS.find((demo) => demo.when?.kind === 'ready')!;
  const show = await findShow(tx, id);
  if (show?.startedAtMs !== null || show.archivedAtMs !== null) return;
  if (show.startsAtMs === null || now < show.startsAtMs + READY_LAPSES_MS) return;
  const start = startOf({ kind: 'ready' }, now);
  await updateShow(tx, {
    id,
    version: show.version + 1,
    text: { ...show.text, start },
    startsAtMs: instantOf(start),
    editedAtMs: now,
    editedBy: TEO,
  });
  await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, id))! });
}

function startOf(when: NonNullable<DemoShow['when']>, now: number) {
  if (when.kind === 'ready') {
    // On a full five minutes, as people plan.
    const at = Math.ceil((now + READY_IN_MS) / (5 * MINUTE)) * 5 * MINUTE;
    return { local: wallTimeAt(at, ZONE), zone: ZONE, fold: 'earlier' as const };
  }
  const day = wallTimeAt(now + when.days * 24 * 60 * MINUTE, ZONE).slice(0, 10);
  return { local: `${day}T${when.time}`, zone: when.zone ?? ZONE, fold: 'earlier' as const };
}

function instantOf(start: ReturnType<typeof startOf>): number {
  const resolved = resolveStart(start);
  if (!resolved.ok)
    throw new Error(`the demo's start ${start.local} ${start.zone}: ${resolved.problem.code}`);
  return resolved.atMs;
}
