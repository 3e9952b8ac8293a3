import { FOR_HOST_STATES, MESSAGE_KINDS, QUESTION_STATES, STANDINGS } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';

/** What a viewer, or the house, wrote at one destination. Viewers' text is text, whatever is in it. */
export const ChatMessage = z.object({
  id: Id,
  showId: Id,
  destinationId: Id,
  kind: z.enum(MESSAGE_KINDS),
  author: z.object({
    /** The place's own id of them. */
    id: z.string(),
    name: z.string(),
    /** It is the house itself. */
    owner: z.boolean(),
    /** What their place shows beside the name, in its words. */
    badges: z.array(z.string()),
    /** Age of their account there, days; null: the place does not say. */
    accountDays: z.nullable(z.int()),
    /** In how many other shows of ours they wrote at this destination before. */
    otherShows: z.int(),
  }),
  /** The first of its writer in this show. */
  first: z.boolean(),
  text: z.string(),
  /** When its writer changed it over there; null: it is as it was written. */
  editedAtMs: z.nullable(InstantMs),
  /** Its writer, or their place, took it back. What it said is kept for the team, and shown nowhere else. */
  takenBack: z.boolean(),
  /** By the place's clock. */
  writtenAtMs: InstantMs,
  /** The moment of the show its writer was watching, ms; null before the picture and after it. */
  showTimeMs: z.nullable(z.int()),
  /** That moment is known by the house rule for the place only: about. */
  showTimeAbout: z.boolean(),
  /** The message it answers, if we have that. */
  replyTo: z.nullable(Id),
  /** Whoever of the team wrote it from here. */
  sentBy: z.nullable(z.string()),
  /** `aside`: it waits for a person; `hidden`: nobody of ours shows it. */
  standing: z.enum(STANDINGS),
  /** Who or which rule made it so; null: nobody did anything. */
  by: z.nullable(z.string()),
  /** Hidden at its place, too: `true` once the place says so, `false` where that was not possible; null: not asked. */
  hiddenThere: z.nullable(z.boolean()),
  /** Viewers' messages that are lined up to be answered. */
  question: z.enum(QUESTION_STATES),
  forHost: z.enum(FOR_HOST_STATES),
  /** The flood it is part of; null: none. */
  flood: z.nullable(Id),
  /** Whoever of the team is about to deal with it; null: nobody, or not for some minutes. */
  takenBy: z.nullable(z.object({ memberId: Id, name: z.string() })),
  /** It came with a practice, and goes with it. */
  practice: z.boolean(),
});
export type ChatMessage = z.infer<typeof ChatMessage>;
