import { reactionsOf, type ReactionCounts } from '@juncta/core/chat';
import * as z from 'zod';
import { PlaceAway } from '../ask-place';
import type { PlaceMessage } from './connector';

/** Longer than any place lets through; what a place sends is bounded all the same. */
const MOST_CHARACTERS = 20_000;
const MOST_IN_NAME = 200;
const MOST_IN_BADGE = 60;
const MOST_BADGES = 10;
/** Older than any place: what is said beyond is no age. */
const MOST_DAYS = 40_000;

const KINDS: readonly PlaceMessage['kind'][] = ['message', 'private', 'follow', 'sale'];

/** A message in the form that several places with an API of JSON happen to use. */
export const WireMessage = z.object({
  id: z.string().max(200),
  written_at: z.iso.datetime(),
  author: z.object({
    id: z.string().max(200),
    name: z.string(),
    owner: z.boolean(),
    badges: z.unknown().optional(),
    account_days: z.unknown().optional(),
  }),
  text: z.string(),
  reply_to: z.string().nullable(),
  // What only some places have. What makes no sense of it is taken for nothing: the message itself is what matters.
  seq: z.unknown().optional(),
  kind: z.unknown().optional(),
  edited_at: z.unknown().optional(),
  deleted: z.unknown().optional(),
});

export function readMessage(wire: z.infer<typeof WireMessage>): PlaceMessage {
  const { id, seq, kind, written_at, author, text, reply_to, edited_at, deleted } = wire;
  const { badges, account_days: days } = author;
  const editedAtMs = typeof edited_at === 'string' ? Date.parse(edited_at) : NaN;
  return {
    id: visible(id),
    seq: visible(typeof seq === 'string' && seq.length <= 200 ? seq : id),
    kind: KINDS.find((one) => one === kind) ?? 'message',
    writtenAtMs: Date.parse(written_at),
    author: {
      id: visible(author.id),
      name: whole(visible(author.name).slice(0, MOST_IN_NAME)) || '?',
      owner: author.owner,
      badges: Array.isArray(badges) ? badges.slice(0, MOST_BADGES).flatMap(readBadge) : [],
      accountDays:
        typeof days === 'number' && Number.isInteger(days) && days >= 0 && days <= MOST_DAYS ? days : null,
    },
    text: whole(visible(text).slice(0, MOST_CHARACTERS)),
    replyTo: reply_to === null ? null : visible(reply_to),
    editedAtMs: Number.isNaN(editedAtMs) ? null : editedAtMs,
    deleted: deleted === true,
  };
}

function readBadge(badge: unknown): string[] {
  const read = typeof badge === 'string' ? whole(visible(badge).slice(0, MOST_IN_BADGE)) : '';
  return read === '' ? [] : [read];
}

/** Half of a sign that takes two units, wherever it comes from, is no text: the database would refuse it. */
const whole = (text: string) => Buffer.from(text, 'utf8').toString('utf8');

/** Without marks that turn the direction of what follows, and without control characters: they disguise a text. */
const visible = (text: string) =>
  whole(text)
    .replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g, '')
    .trim();

/** What viewers pressed, as places tell it beside their messages: totals by the place's own names. */
const WireReactions = z.object({ reactions: z.record(z.string().max(60), z.number()) });

/** Null: it tells of none. */
export function readReactions(wire: unknown): ReactionCounts | null {
  const read = WireReactions.safeParse(wire);
  return read.success ? reactionsOf(read.data.reactions) : null;
}

export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new PlaceAway('what came was not JSON');
  }
}
