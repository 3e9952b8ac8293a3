import * as z from 'zod';
import { PlaceAway } from '../ask-place';
import type { PlaceMessage } from './connector';

/** Longer than any place lets through; what a place sends is bounded all the same. */
const MOST_CHARACTERS = 20_000;

/** A message in the form that both places with an API of JSON happen to use. */
export const WireMessage = z.object({
  id: z.string().max(200),
  written_at: z.iso.datetime(),
  author: z.object({ id: z.string().max(200), name: z.string(), owner: z.boolean() }),
  text: z.string(),
  reply_to: z.string().nullable(),
});

export function readMessage(wire: z.infer<typeof WireMessage>): PlaceMessage {
  return {
    id: wire.id,
    writtenAtMs: Date.parse(wire.written_at),
    author: { ...wire.author, name: visible(wire.author.name).slice(0, 200) || '?' },
    text: visible(wire.text).slice(0, MOST_CHARACTERS),
    replyTo: wire.reply_to,
  };
}

/** Without marks that turn the direction of what follows, and without control characters: they disguise a text. */
const visible = (text: string) =>
  text.replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g, '').trim();

export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new PlaceAway('what came was not JSON');
  }
}
