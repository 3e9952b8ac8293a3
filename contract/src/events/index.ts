import * as z from 'zod/mini';
import type { ChatFlood, ChatLine, ChatMessage, OnProgramme, Practice, Reactions, ViewerNote } from '../chat';
import type { Listing } from '../listings';
import type { Composing } from '../programme';
import type { ProgrammeReport } from '../relay';
import type { Mark } from '../marks';
import type { Series, Show } from '../shows';
import type { Member } from '../team';

/**
 * Numbered event streams. A change and its event are written in one transaction; every event of a stream has
 * the next number, from 1, without gaps. A client reads a list, which names the last number it contains,
 * follows from there, and asks again from its last number whenever it missed some. The reading side is
 * `receive` in core.
 */
export interface StreamEvents {
  shows: {
    'show.saved': { show: Show };
    'series.created': { series: Series };
    'series.changed': { series: Series };
  };
  team: {
    'member.joined': { member: Member };
    'member.changed': { member: Member };
    'member.removed': { memberId: string };
  };
  relay: {
    /** A state changed: of the programme, a feed, the run or a recording. Figures alone come as `figures`. */
    'programme.changed': { programme: ProgrammeReport };
    'composing.changed': { showId: string; composing: Composing | null };
    'destinations.changed': { showId: string | null };
    'marks.changed': { showId: string; marks: readonly Mark[] };
    'listing.changed': { showId: string; listing: Listing };
  };
  chat: {
    'messages.added': { showId: string; messages: readonly ChatMessage[] };
    'line.changed': ChatLine;
    /** An empty note: there is none any more. */
    'viewer.noted': { note: ViewerNote };
    /** Its messages change with it: those that are shown go aside, or come back. */
    'flood.changed': { flood: ChatFlood };
    /** Some seconds' worth at a time. */
    'reactions.counted': { showId: string; reactions: Reactions };
    /** Null: it is over, and what came with it is taken away. */
    'practice.changed': { showId: string; practice: Practice | null };
    /** How far behind a destination's viewers are is known now: what was reckoned by the rule moves by so much. */
    'times.righted': { showId: string; destinationId: string; byMs: number };
    'programme.set': { showId: string; onProgramme: OnProgramme | null };
  };
}

export type StreamName = keyof StreamEvents;
export const STREAMS = ['shows', 'team', 'relay', 'chat'] as const satisfies readonly StreamName[];

export type EventType<S extends StreamName> = keyof StreamEvents[S] & string;

/** One event as it travels and is kept. `atMs`: when it was written, by the clock. */
export type StreamEvent<S extends StreamName = StreamName> = {
  [T in StreamName]: {
    [K in EventType<T>]: {
      readonly stream: T;
      readonly seq: number;
      readonly atMs: number;
      readonly type: K;
      readonly payload: StreamEvents[T][K];
    };
  }[EventType<T>];
}[S];

/** What a client asks of the socket. */
export const Follow = z.object({
  stream: z.enum(STREAMS),
  /** Everything after this number. */
  after: z.int().check(z.minimum(0)),
});
export type Follow = z.infer<typeof Follow>;

/** Events kept at the least; whoever is further behind is told to read the list afresh. */
export const EVENTS_KEPT = 5000;

export interface FollowAnswer {
  /** False: refused, or not understood. */
  readonly ok: boolean;
  /** The numbers asked for are no longer kept: read the list again and follow from its number. */
  readonly startAfresh: boolean;
}

/** The one typed map of what passes over the socket, both ways. */
export interface ServerToClient {
  events: (batch: readonly StreamEvent[]) => void;
  /** Bitrates, times and the like, about once a second, to whoever follows `relay`. Not numbered: the next ones come soon. */
  figures: (atMs: number, programmes: readonly ProgrammeReport[]) => void;
  /** Who watches where, as the places count. Not numbered either. */
  viewers: (counted: readonly { showId: string; destinationId: string; viewers: number | null }[]) => void;
  /** The session has ended: signed out elsewhere, or removed from the team. */
  signed_out: () => void;
}
export interface ClientToServer {
  follow: (request: Follow, answer: (result: FollowAnswer) => void) => void;
}
