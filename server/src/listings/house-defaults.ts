import type { HouseDefaults } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import type { SettingValues, ShowFacts } from '@juncta/core/listings';
import { eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import type { App } from '../app';
import { describeSeries } from '../shows/describe-series';
import { findSeries } from '../shows/store';
import { houseDefault } from './schema';

const TEAM = 'team';
/** As long before the start as people are at the desk while nothing else is laid down, min. */
const AT_DESK_MINUTES = 40;

export async function readDefaults(db: Queryable): Promise<HouseDefaults> {
  const rows = await db.select().from(houseDefault);
  const team = rows.find(({ scope }) => scope === TEAM);
  const others = rows.filter(({ scope }) => scope !== TEAM);
  return {
    team: team?.settings ?? {},
    bySeries: Object.fromEntries(others.map(({ scope, settings }) => [scope, settings])),
    atDeskMinutes: team?.atDeskMinutes ?? AT_DESK_MINUTES,
  };
}

/** Those for a show of this series, the nearest first. */
export async function defaultsFor(db: Queryable, seriesId: string | null): Promise<SettingValues[]> {
  const { team, bySeries } = await readDefaults(db);
  const series = seriesId === null ? undefined : bySeries[seriesId];
  return series ? [series, team] : [team];
}

/** Changes the settings that are named; null takes one away. */
export async function changeDefaults(
  db: Queryable,
  seriesId: string | null,
  change: SettingValues,
  atDeskMinutes: number | undefined,
): Promise<void> {
  const scope = seriesId ?? TEAM;
  await db.insert(houseDefault).values({ scope }).onConflictDoNothing();
  const [row] = await db.select().from(houseDefault).where(eq(houseDefault.scope, scope)).for('update');
  const merged = Object.entries({ ...row!.settings, ...change }).filter(([, value]) => value !== null);
  await db
    .update(houseDefault)
    .set({
      settings: Object.fromEntries(merged),
      ...(atDeskMinutes === undefined ? {} : { atDeskMinutes }),
    })
    .where(eq(houseDefault.scope, scope));
}

/** What a show's placeholders are filled in from. */
export async function factsOf({ db, config }: App, show: Show): Promise<ShowFacts> {
  const { seriesId } = show.text;
  const row = seriesId === null ? undefined : await findSeries(db, seriesId);
  return {
    startsAtMs: show.startsAtMs,
    zone: show.text.start?.zone ?? null,
    people: show.text.people,
    series: row ? describeSeries(config, row) : null,
  };
}
