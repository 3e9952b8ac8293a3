import {
  correctHouseRule,
  DESTINATION_KINDS,
  dismissAlarm,
  readHouseRules,
} from '@juncta/contract/destinations';
import type { Response } from '@juncta/contract/http';
import { CORRECTABLE, figureOf, type Correctable } from '@juncta/core/destinations';
import { wallTimeAt } from '@juncta/core/schedule';
import { and, desc, eq, isNull } from 'drizzle-orm';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { member } from '../team/schema';
import { connectorOf, type Kind } from './connectors';
import { ruleAlarm, ruleCorrection } from './schema';

/** The house's own day, for dating what it knows. */
const HOUSE_ZONE = 'Etc/UTC';

/** A place refused with a limit that is not ours: that is written down, once, and again after it was put away. */
export async function raiseAlarm(app: App, kind: Kind, rule: Correctable, theirs: number): Promise<void> {
  const ours = figureOf(app.rules.of(kind).capabilities, rule);
  if (ours === null || ours === theirs) return;
  const raisedAt = app.clock.now();
  await app.db
    .insert(ruleAlarm)
    .values({ id: randomUUID(), kind, rule, ours, theirs, raisedAt })
    .onConflictDoUpdate({
      target: [ruleAlarm.kind, ruleAlarm.rule, ruleAlarm.ours, ruleAlarm.theirs],
      set: { raisedAt, dismissedAt: null },
    });
}

export function mountHouseRules(router: Router, app: App): void {
  mount(router, app, readHouseRules, () => view(app));

  mount(router, app, correctHouseRule, async ({ body, memberId }) => {
    const { kind, rule, figure, source } = body;
    const was = figureOf(app.rules.of(kind).capabilities, rule);
    const { least, most } = CORRECTABLE[rule];
    if (was === null || figure < least || figure > most) {
      const sentence =
        was === null
          ? `${connectorOf(kind).rules.place} has no such rule.`
          : `It lies between ${least} and ${most}.`;
      throw badInput([{ field: 'figure', code: 'out_of_range', sentence }]);
    }
    const writtenAt = app.clock.now();
    const since = wallTimeAt(writtenAt, HOUSE_ZONE).slice(0, 10);
    await app.db.transaction(async (tx) => {
      const row = { id: randomUUID(), kind, rule, was, is: figure, since, source, memberId, writtenAt };
      await tx.insert(ruleCorrection).values(row);
      // What was said about the old rule is answered.
      await tx
        .update(ruleAlarm)
        .set({ dismissedAt: writtenAt })
        .where(and(eq(ruleAlarm.kind, kind), eq(ruleAlarm.rule, rule), isNull(ruleAlarm.dismissedAt)));
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
    });
    await app.rules.read(app.db);
    return view(app);
  });

  mount(router, app, dismissAlarm, async ({ params: { alarmId } }) => {
    const put = await app.db
      .update(ruleAlarm)
      .set({ dismissedAt: app.clock.now() })
      .where(eq(ruleAlarm.id, alarmId))
      .returning({ id: ruleAlarm.id });
    if (put.length === 0) throw notFound('alarm');
    return view(app);
  });
}

async function view(app: App): Promise<Response<typeof readHouseRules>> {
  const corrections = await app.db
    .select({ correction: ruleCorrection, by: member.name })
    .from(ruleCorrection)
    .leftJoin(member, eq(member.id, ruleCorrection.memberId))
    .orderBy(desc(ruleCorrection.writtenAt));
  const alarms = await app.db.select().from(ruleAlarm).where(isNull(ruleAlarm.dismissedAt));
  return {
    rules: DESTINATION_KINDS.map((kind) => ({ kind, rules: app.rules.of(kind) })),
    corrections: corrections.map(({ correction: { kind, rule, was, is, since, source }, by }) => ({
      kind,
      rule,
      was,
      is,
      since,
      source,
      by,
    })),
    alarms: alarms.map(({ id, kind, rule, ours, theirs, raisedAt }) => ({
      id,
      kind,
      place: connectorOf(kind).rules.place,
      rule,
      ours,
      theirs,
      atMs: raisedAt,
    })),
  };
}
