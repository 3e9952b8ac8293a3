import { RULE_ACTIONS, RULE_KINDS } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';

export const ChatRule = z.object({
  kind: z.enum(RULE_KINDS),
  action: z.enum(RULE_ACTIONS),
  on: z.boolean(),
  list: z.array(z.string().check(z.maxLength(200))).check(z.maxLength(500)),
  most: z.int().check(z.minimum(0), z.maximum(10_000)),
  /** Destinations at which it holds; empty: everywhere. */
  where: z.array(Id).check(z.maxLength(200)),
});
const list = z.array(ChatRule).check(z.maxLength(RULE_KINDS.length));

/** Rules as they are kept. `version`: another one after every change. */
export const KeptRules = z.object({ rules: list, version: z.string() });
export type KeptRules = z.infer<typeof KeptRules>;

/** The house's rules, and a show's own, which then hold instead of them; null: the house's hold. */
export const RulesOfShow = z.object({ house: KeptRules, show: z.nullable(KeptRules) });
export type RulesOfShow = z.infer<typeof RulesOfShow>;

const showParams = z.object({ showId: Id });

export const readChatRules = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/rules',
  access: right('chat.read'),
  params: showParams,
  body: Nothing,
  response: RulesOfShow,
});

/**
 * Lays down the house's rules or a show's own. Refused with `changed_meanwhile`, and with how they are now, when
 * somebody else changed them since they were read.
 */
export const saveChatRules = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/rules',
  access: right('chat.write'),
  params: showParams,
  body: z.object({
    of: z.enum(['house', 'show']),
    /** Null: the show has none of its own any more. */
    rules: z.nullable(list),
    /** Of those that are to be replaced; null: the show had none of its own. */
    version: z.nullable(z.string()),
  }),
  response: RulesOfShow,
});

/** What these rules would have done with what viewers of a show wrote: nothing is changed. */
export const tryChatRules = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/try-rules',
  access: right('chat.read'),
  params: showParams,
  body: z.object({ rules: list }),
  response: z.object({
    messages: z.int(),
    caught: z.array(
      z.object({
        kind: z.enum(RULE_KINDS),
        action: z.enum(RULE_ACTIONS),
        author: z.string(),
        text: z.string(),
      }),
    ),
  }),
});
