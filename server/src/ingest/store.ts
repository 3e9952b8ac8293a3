import type { StandingInput } from '@juncta/contract/ingest';
import { and, asc, eq, isNotNull, isNull, ne, or, sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { show } from '../shows/schema';
import { ingestInput, programmeInput } from './schema';

export type InputRow = typeof ingestInput.$inferSelect;

/** In the order in which they were made. */
export const inputsOf = (db: Queryable, showId: string): Promise<InputRow[]> =>
  db
    .select()
    .from(ingestInput)
    .where(eq(ingestInput.showId, showId))
    .orderBy(asc(ingestInput.madeAt), asc(ingestInput.id));

export async function findInput(db: Queryable, showId: string, id: string): Promise<InputRow | undefined> {
  return (await db.select().from(ingestInput).where(isInput(showId, id)))[0];
}

const isInput = (showId: string, id: string) => and(eq(ingestInput.showId, showId), eq(ingestInput.id, id));

export async function addInput(db: Queryable, row: typeof ingestInput.$inferInsert): Promise<void> {
  await db.insert(ingestInput).values(row).onConflictDoNothing();
}

export async function changeInput(
  db: Queryable,
  showId: string,
  id: string,
  values: Partial<Omit<InputRow, 'id' | 'showId' | 'madeAt'>>,
): Promise<void> {
  await db.update(ingestInput).set(values).where(isInput(showId, id));
}

export async function removeInput(db: Queryable, showId: string, id: string): Promise<void> {
  await db.delete(ingestInput).where(isInput(showId, id));
}

/** The team's own that are not booked to this show, by name. */
export async function standingBesides(db: Queryable, showId: string): Promise<StandingInput[]> {
  const rows = await db
    .select({ input: ingestInput, title: show.title })
    .from(ingestInput)
    .leftJoin(show, eq(show.id, ingestInput.showId))
    .where(
      and(eq(ingestInput.isStanding, true), or(isNull(ingestInput.showId), ne(ingestInput.showId, showId))),
    )
    .orderBy(asc(ingestInput.name), asc(ingestInput.id));
  return rows.map(({ input: { id, name, transport, showId: at }, title }) => ({
    id,
    name,
    transport,
    bookedTo: at === null || title === null ? null : { showId: at, title },
  }));
}

export async function findStanding(db: Queryable, id: string): Promise<InputRow | undefined> {
  const isIt = and(eq(ingestInput.id, id), eq(ingestInput.isStanding, true));
  return (await db.select().from(ingestInput).where(isIt))[0];
}

export async function bookInput(db: Queryable, id: string, showId: string | null): Promise<void> {
  await db.delete(programmeInput).where(eq(programmeInput.inputId, id));
  await db.update(ingestInput).set({ showId }).where(eq(ingestInput.id, id));
}

/** Ports at which encoders come by SRT, of all shows. */
export async function takenSrtPorts(db: Queryable): Promise<number[]> {
  const rows = await db
    .select({ port: ingestInput.srtPort })
    .from(ingestInput)
    .where(isNotNull(ingestInput.srtPort))
    .orderBy(asc(ingestInput.srtPort));
  return rows.flatMap(({ port }) => port ?? []);
}

/** Which of them is the programme; null: the desk makes it. */
export async function takenInput(db: Queryable, showId: string): Promise<string | null> {
  const rows = await db.select().from(programmeInput).where(eq(programmeInput.showId, showId));
  return rows[0]?.inputId ?? null;
}

export async function noteTaken(db: Queryable, showId: string, inputId: string | null): Promise<void> {
  if (inputId === null) await db.delete(programmeInput).where(eq(programmeInput.showId, showId));
  else {
    await db
      .insert(programmeInput)
      .values({ showId, inputId })
      .onConflictDoUpdate({ target: programmeInput.showId, set: { inputId: sql`excluded.input_id` } });
  }
}

/** Shows that have inputs and may still run: what the relay has to be told after its own death. */
export async function showsWithInputs(db: Queryable): Promise<string[]> {
  const rows = await db
    .selectDistinct({ showId: ingestInput.showId })
    .from(ingestInput)
    .innerJoin(show, eq(show.id, ingestInput.showId))
    .where(isNull(show.archivedAt));
  return rows.flatMap(({ showId }) => showId ?? []);
}
