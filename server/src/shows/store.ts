import type { Picture } from '@juncta/contract/listings';
import type { SettingValues } from '@juncta/core/listings';
import type { PictureFormat } from '@juncta/core/programme';
import type { Recurrence, Show, ShowPerson, ShowText } from '@juncta/contract/shows';
import { and, asc, eq, inArray, notInArray, sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { member } from '../team/schema';
import { series, show, showPerson } from './schema';

export type SeriesRow = typeof series.$inferSelect;

export async function listSeries(db: Queryable): Promise<SeriesRow[]> {
  return db.select().from(series).orderBy(asc(series.name));
}

export async function findSeries(db: Queryable, id: string): Promise<SeriesRow | undefined> {
  return (await db.select().from(series).where(eq(series.id, id)))[0];
}

/** False: there is one with this id already. */
export async function addSeries(db: Queryable, values: { id: string; name: string }): Promise<boolean> {
  return (await db.insert(series).values(values).onConflictDoNothing().returning()).length > 0;
}

export async function setRecurrence(db: Queryable, id: string, recurrence: Recurrence | null): Promise<void> {
  await db.update(series).set({ recurrence }).where(eq(series.id, id));
}

export async function listShows(db: Queryable): Promise<Show[]> {
  return readShows(db);
}

export async function findShow(db: Queryable, id: string): Promise<Show | undefined> {
  return (await readShows(db, id))[0];
}

/** Takes a show's row until the transaction ends, so that two saves come one after the other. */
export async function lockShow(db: Queryable, id: string): Promise<void> {
  await db.select({ id: show.id }).from(show).where(eq(show.id, id)).for('update');
}

export interface ShowSave {
  readonly id: string;
  readonly version: number;
  readonly text: ShowText;
  readonly startsAtMs: number | null;
  readonly editedAtMs: number;
  readonly editedBy: string;
}

/** False: there is one with this id already. */
export async function insertShow(db: Queryable, save: ShowSave): Promise<boolean> {
  const rows = await db
    .insert(show)
    .values({ id: save.id, ...columnsOf(save) })
    .onConflictDoNothing()
    .returning({ id: show.id });
  if (rows.length === 0) return false;
  await savePeople(db, save.id, save.text.people);
  return true;
}

export async function updateShow(db: Queryable, save: ShowSave): Promise<void> {
  await db.update(show).set(columnsOf(save)).where(eq(show.id, save.id));
  await savePeople(db, save.id, save.text.people);
}

export async function setArchived(
  db: Queryable,
  id: string,
  values: { archivedAt: number | null; version: number; editedAt: number; editedBy: string },
): Promise<void> {
  await db.update(show).set(values).where(eq(show.id, id));
}

/** Programme times, which the relay's part writes once it runs, and the demo for its finished show. */
export async function setProgrammeTimes(
  db: Queryable,
  id: string,
  values: { startedAt: number | null; endedAt: number | null },
): Promise<void> {
  await db.update(show).set(values).where(eq(show.id, id));
}

export async function setShowDelay(db: Queryable, id: string, delayS: number): Promise<void> {
  await db.update(show).set({ delayS }).where(eq(show.id, id));
}

export async function setShowPictureFormat(
  db: Queryable,
  id: string,
  pictureFormat: PictureFormat,
): Promise<void> {
  await db.update(show).set({ pictureFormat }).where(eq(show.id, id));
}

export async function setShowPicture(db: Queryable, id: string, picture: Picture | null): Promise<void> {
  await db.update(show).set({ picture }).where(eq(show.id, id));
}

/** Changes the settings that are named; null takes one away. */
export async function changeShared(
  db: Queryable,
  { id, shared }: Show,
  change: SettingValues,
): Promise<void> {
  const merged = Object.entries({ ...shared, ...change }).filter(([, value]) => value !== null);
  await db
    .update(show)
    .set({ shared: Object.fromEntries(merged) })
    .where(eq(show.id, id));
}

function columnsOf(save: ShowSave) {
  const { title, description, seriesId, start, plannedMinutes } = save.text;
  return {
    version: save.version,
    title,
    description,
    seriesId,
    startLocal: start?.local ?? null,
    startZone: start?.zone ?? null,
    startFold: start?.fold ?? null,
    startsAt: save.startsAtMs,
    plannedMinutes,
    editedAt: save.editedAtMs,
    editedBy: save.editedBy,
  };
}

/** Rows are kept where the person stays, since a guest's link and sessions hang on them. */
async function savePeople(db: Queryable, showId: string, people: readonly ShowPerson[]): Promise<void> {
  const ids = people.map((person) => person.id);
  await db
    .delete(showPerson)
    .where(and(eq(showPerson.showId, showId), ids.length > 0 ? notInArray(showPerson.id, ids) : undefined));
  if (people.length === 0) return;
  await db
    .insert(showPerson)
    .values(people.map((person, position) => ({ showId, position, ...person })))
    .onConflictDoUpdate({
      target: [showPerson.showId, showPerson.id],
      set: {
        position: sql`excluded.position`,
        memberId: sql`excluded.member_id`,
        name: sql`excluded.name`,
        part: sql`excluded.part`,
        about: sql`excluded.about`,
      },
    });
}

async function readShows(db: Queryable, id?: string): Promise<Show[]> {
  const rows = await db
    .select({ show, editedBy: member.name, editorRemoved: member.removedAt })
    .from(show)
    .leftJoin(member, eq(member.id, show.editedBy))
    .where(id === undefined ? undefined : eq(show.id, id));
  if (rows.length === 0) return [];
  const people = await db
    .select()
    .from(showPerson)
    .where(
      inArray(
        showPerson.showId,
        rows.map((row) => row.show.id),
      ),
    )
    .orderBy(asc(showPerson.position));
  const byShow = new Map<string, typeof people>();
  for (const person of people) byShow.set(person.showId, [...(byShow.get(person.showId) ?? []), person]);
  return rows.map((row) => ({
    id: row.show.id,
    version: row.show.version,
    text: {
      title: row.show.title,
      description: row.show.description,
      seriesId: row.show.seriesId,
      start:
        row.show.startLocal && row.show.startZone && row.show.startFold
          ? { local: row.show.startLocal, zone: row.show.startZone, fold: row.show.startFold }
          : null,
      plannedMinutes: row.show.plannedMinutes,
      people: (byShow.get(row.show.id) ?? []).map(({ id: personId, memberId, name, part, about }) => ({
        id: personId,
        memberId,
        name,
        part,
        about,
      })),
    },
    startsAtMs: row.show.startsAt,
    startedAtMs: row.show.startedAt,
    endedAtMs: row.show.endedAt,
    archivedAtMs: row.show.archivedAt,
    editedAtMs: row.show.editedAt,
    editedBy: row.editorRemoved === null ? row.editedBy : null,
    picture: row.show.picture,
    shared: row.show.shared,
    delayS: row.show.delayS,
    pictureFormat: row.show.pictureFormat,
  }));
}
