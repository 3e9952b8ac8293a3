import type { HouseRules } from '@juncta/contract/destinations';
import { corrected } from '@juncta/core/destinations';
import { asc } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { connectorOf, type Kind } from './connectors';
import { ruleCorrection } from './schema';

/**
 * What places allow, as the team knows it: what each connector came with, and what was corrected since. Held in memory,
 * since it is asked for everywhere.
 */
export class RulesBook {
  private known = new Map<Kind, HouseRules>();

  of(kind: Kind): HouseRules {
    return this.known.get(kind) ?? connectorOf(kind).rules;
  }

  async read(db: Queryable): Promise<void> {
    const known = new Map<Kind, HouseRules>();
    for (const one of await db.select().from(ruleCorrection).orderBy(asc(ruleCorrection.writtenAt))) {
      const before = known.get(one.kind) ?? connectorOf(one.kind).rules;
      const capabilities = corrected(before.capabilities, one.rule, one.is);
      known.set(one.kind, { ...before, since: one.since, source: one.source, capabilities });
    }
    this.known = known;
  }
}
