import type { OverlayPage } from '@juncta/contract/chat';
import type { ShowScope } from '@juncta/contract/shows';
import { USUAL_OVERLAY_BOX, type BoxedMessage, type OverlayBox } from '@juncta/core/stage';
import { and, asc, desc, eq } from 'drizzle-orm';
import { hashToken, newToken } from '../../access/tokens';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { chatMessage, overlayPage } from '../schema';

export type OverlayRow = typeof overlayPage.$inferSelect;

/** What the address is locked with: a row's cannot be moved to another. */
const about = (scope: ShowScope): string => `overlay ${scope}`;

export function describeOverlay(app: App, { scope, token, box }: OverlayRow): OverlayPage {
  return { scope, token: app.secrets.unlock(token, about(scope)), box: whole(box) };
}

export async function overlayPages(db: Queryable): Promise<OverlayRow[]> {
  return db.select().from(overlayPage).orderBy(asc(overlayPage.scope));
}

export async function findOverlay(db: Queryable, scope: ShowScope): Promise<OverlayRow | undefined> {
  return (await db.select().from(overlayPage).where(eq(overlayPage.scope, scope)))[0];
}

export async function overlayWithToken(db: Queryable, token: string): Promise<OverlayRow | undefined> {
  return (
    await db
      .select()
      .from(overlayPage)
      .where(eq(overlayPage.tokenHash, hashToken(token)))
  )[0];
}

/** Makes it where there is none yet. */
export async function changeOverlay(
  app: App,
  db: Queryable,
  scope: ShowScope,
  values: Partial<OverlayBox>,
): Promise<OverlayRow> {
  const box = { ...USUAL_OVERLAY_BOX, ...values };
  await db
    .insert(overlayPage)
    .values({ scope, box, ...address(app, scope) })
    .onConflictDoNothing();
  const [row] = await db.select().from(overlayPage).where(eq(overlayPage.scope, scope)).for('update');
  const changed = { ...row!, box: { ...whole(row!.box), ...values } };
  await db.update(overlayPage).set({ box: changed.box }).where(eq(overlayPage.scope, scope));
  return changed;
}

/** Null: there is no such page. */
export async function renewOverlay(app: App, db: Queryable, scope: ShowScope): Promise<OverlayRow | null> {
  const [row] = await db
    .update(overlayPage)
    .set(address(app, scope))
    .where(eq(overlayPage.scope, scope))
    .returning();
  return row ?? null;
}

export async function deleteOverlay(db: Queryable, scope: ShowScope): Promise<void> {
  await db.delete(overlayPage).where(eq(overlayPage.scope, scope));
}

function address(app: App, scope: ShowScope): Pick<OverlayRow, 'token' | 'tokenHash'> {
  const token = newToken();
  return { token: app.secrets.lock(token, about(scope)), tokenHash: hashToken(token) };
}

/** What a box has come to hold since its row was written has its usual value. */
const whole = (box: Partial<OverlayBox>): OverlayBox => ({ ...USUAL_OVERLAY_BOX, ...box });

export interface OverlayMessage extends BoxedMessage {
  readonly author: string;
  readonly text: string;
  readonly receivedAtMs: number;
}

/** More than a page can have: some are of destinations that it leaves out. */
const MOST_READ = 200;

/**
 * The newest of a show that viewers may see, in the order of writing. Nothing of a practice is among them: what was written on
 * another evening does not leave the house again.
 */
export async function overlayMessages(db: Queryable, showId: string): Promise<OverlayMessage[]> {
  const rows = await db
    .select()
    .from(chatMessage)
    .where(
      and(
        eq(chatMessage.showId, showId),
        eq(chatMessage.standing, 'shown'),
        eq(chatMessage.takenBack, false),
        eq(chatMessage.practice, false),
      ),
    )
    .orderBy(desc(chatMessage.writtenAt), desc(chatMessage.id))
    .limit(MOST_READ);
  return rows.reverse().map((row) => ({
    id: row.id,
    destinationId: row.destinationId,
    kind: row.kind,
    standing: row.standing,
    takenBack: row.takenBack,
    writtenAtMs: row.writtenAt,
    receivedAtMs: row.receivedAt,
    author: row.authorName,
    text: row.text,
  }));
}

/** Whether a message came with a practice. */
export async function isOfPractice(db: Queryable, messageId: string): Promise<boolean> {
  const [row] = await db
    .select({ practice: chatMessage.practice })
    .from(chatMessage)
    .where(eq(chatMessage.id, messageId));
  return row?.practice ?? false;
}
