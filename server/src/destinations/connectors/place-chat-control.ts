import type { PlaceChatRules } from '@juncta/contract/chat';
import * as z from 'zod';
import { understood } from '../ask-place';
import type { PlaceChatControl } from './connector';
import type { ShortTokens } from './short-tokens';

/** The names that places with an API of JSON happen to use; what one does not name it does not offer. */
const Wire = z.object({
  slow_s: z.number().int().min(0).optional(),
  followers_only: z.boolean().optional(),
  account_days: z.number().int().min(0).optional(),
});

const read = (wire: z.infer<typeof Wire>): PlaceChatRules => ({
  slowSeconds: wire.slow_s ?? null,
  followersOnly: wire.followers_only ?? null,
  accountDays: wire.account_days ?? null,
});

const write = ({ slowSeconds, followersOnly, accountDays }: PlaceChatRules): z.infer<typeof Wire> => ({
  ...(slowSeconds === null ? {} : { slow_s: slowSeconds }),
  ...(followersOnly === null ? {} : { followers_only: followersOnly }),
  ...(accountDays === null ? {} : { account_days: accountDays }),
});

/** @param pathOf where an event's rules are */
export const placeChatControl = (
  tokens: ShortTokens,
  most: PlaceChatControl['most'],
  pathOf: (eventRef: string | null) => string,
): PlaceChatControl => ({
  most,
  async rules(target, eventRef, wanted, ask) {
    const path = pathOf(eventRef);
    if (wanted) await tokens.call(target, ask, path, { method: 'PUT', body: write(wanted) });
    return read(understood(Wire, await tokens.call(target, ask, path)));
  },
});
