import type { Clock } from '@juncta/core/clock';
import type { RecentLines } from '@juncta/runtime/log';
import type { Logger } from 'pino';
import type { SecretBox } from './access/secret-box';
import type { RateLimits } from './access/rate-limits';
import type { ServerClock } from './clock/server-clock';
import type { Config } from './config';
import type { Database, DatabaseConnection } from './database/connect';
import type { AskPlace } from './destinations/ask-place';
import type { RulesBook } from './destinations/rules-book';
import type { Relay } from './relay/relay';

/** What every part of the server works with. */
export interface App {
  readonly db: Database;
  readonly connection: DatabaseConnection;
  /** The clock of everything that is planned or happens. */
  readonly clock: ServerClock;
  /** The clock of sessions, links and limits. */
  readonly securityClock: Clock;
  readonly rateLimits: RateLimits;
  readonly secrets: SecretBox;
  /** What places allow. */
  readonly rules: RulesBook;
  /** Null where no relay runs: everything but sending works. */
  readonly relay: Relay | null;
  /** Asks places, within limits of time and of where they may be. */
  readonly ask: AskPlace;
  readonly log: Logger;
  /** What the log said last. */
  readonly recent: RecentLines;
  readonly config: Config;
}
