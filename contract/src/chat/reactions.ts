import { REACTION_KINDS } from '@juncta/core/chat';
import * as z from 'zod/mini';

/** What viewers pressed during a show, at all its places. */
export const Reactions = z.object({
  counts: z.partialRecord(z.enum(REACTION_KINDS), z.int()),
  /** In the last minute; after a restart of the server from then on. */
  lastMinute: z.int(),
});
export type Reactions = z.infer<typeof Reactions>;
