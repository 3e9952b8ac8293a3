import type { KeptRules, RulesOfShow } from '@juncta/contract/chat';
import { completeRules, USUAL_RULES, type ChatRule } from '@juncta/core/chat';
import { eq, sql } from 'drizzle-orm';
import type { Queryable, Transaction } from '../../database/connect';
import { versionOf } from '../../database/version';
import { Refusal } from '../../http/errors';
import { chatRules, showChatRules } from '../schema';

const ONLY_ROW = 1;

/** Those that hold in a show: its own, or else the house's. */
export async function rulesFor(db: Queryable, showId: string): Promise<readonly ChatRule[]> {
  return (await ownRules(db, showId)) ?? (await houseRules(db));
}

async function houseRules(db: Queryable): Promise<ChatRule[]> {
  const [row] = await db.select().from(chatRules).where(eq(chatRules.id, ONLY_ROW));
  return completeRules(row?.rules ?? USUAL_RULES);
}

async function ownRules(db: Queryable, showId: string): Promise<ChatRule[] | null> {
  const [row] = await db.select().from(showChatRules).where(eq(showChatRules.showId, showId));
  return row ? completeRules(row.rules) : null;
}

export async function readRules(db: Queryable, showId: string): Promise<RulesOfShow> {
  const own = await ownRules(db, showId);
  return { house: kept(await houseRules(db)), show: own && kept(own) };
}

export interface RulesDraft {
  readonly of: 'house' | 'show';
  readonly rules: readonly ChatRule[] | null;
  readonly version: string | null;
}

/** Refuses what was not made of the rules as they are. */
export async function saveRules(
  tx: Transaction,
  showId: string,
  { of, rules, version }: RulesDraft,
): Promise<RulesOfShow> {
  // Two who save at once come one after the other, and the second is told.
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext('chat_rules'))`);
  const now = await readRules(tx, showId);
  if ((now[of]?.version ?? null) !== version) {
    throw new Refusal(
      'changed_meanwhile',
      'Somebody else changed these rules meanwhile. Nothing of yours was saved yet: look at theirs first.',
      { current: now },
    );
  }
  if (of === 'show' && rules === null) await tx.delete(showChatRules).where(eq(showChatRules.showId, showId));
  else if (of === 'show')
    await tx
      .insert(showChatRules)
      .values({ showId, rules: rules! })
      .onConflictDoUpdate({ target: showChatRules.showId, set: { rules: rules! } });
  else {
    const values = { id: ONLY_ROW, rules: rules ?? USUAL_RULES };
    await tx
      .insert(chatRules)
      .values(values)
      .onConflictDoUpdate({ target: chatRules.id, set: { rules: values.rules } });
  }
  return readRules(tx, showId);
}

const kept = (rules: readonly ChatRule[]): KeptRules => ({
  rules: rules.map((rule) => ({ ...rule, list: [...rule.list], where: [...rule.where] })),
  version: versionOf(rules),
});
