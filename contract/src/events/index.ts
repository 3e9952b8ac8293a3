import type { Right } from '@juncta/core/team';
import * as z from 'zod/mini';
import type { ChatFlood, ChatLine, ChatMessage, OnProgramme, Practice, Reactions, ViewerNote } from '../chat';
import type { Dressings } from '../dressing';
import { Id } from '../http';
import type { Listing } from '../listings';
import type { Composing } from '../programme';
import type { ProgrammeReport } from '../relay';
import type { Mark } from '../marks';
import type { Series, Show } from '../shows';
import type { KeptLayout } from '../stage';
import type { KnownStage } from '@juncta/core/stage';
import type { Member } from '../team';

/**
 * Numbered event streams: some of the house, some of each show. A change and its event are written in one transaction;
 * every event of a stream has the next number, from 1, without gaps. A client reads a list, which names the last number
 * it contains, follows from there, and asks again from its last number whenever it missed some. The reading side is
 * `receive` in core.
 */
export interface HouseEvents {
  shows: {
    'show.saved': { show: Show };
    'series.created': { series: Series };
    'series.changed': { series: Series };
    /** Of the team or a series: all of them, as they are now. */
    'dressings.changed': { dressings: Dressings };
    /** All of them, as they are now. */
    'layouts.changed': { layouts: readonly KeptLayout[] };
  };
  team: {
    'member.joined': { member: Member };
    'member.changed': { member: Member };
    'member.removed': { memberId: string };
  };
  destinations: {
    /** Of a destination, an account or a house rule; the list is read afresh. */
    'destinations.changed': Record<string, never>;
    /** Of any show, for those who look at all of them. */
    'listings.changed': { showId: string };
  };
}

/** Each show has one stream for each of these. */
export interface ShowEvents {
  programme: {
    /** A state changed: of the programme, a feed, the run or a recording. Figures alone come as `figures`. */
    'programme.changed': { programme: ProgrammeReport };
    'composing.changed': { showId: string; composing: Composing | null };
    'marks.changed': { showId: string; marks: readonly Mark[] };
  };
  stage: {
    /** `done`: the changes by which it became so, for those who gave them. */
    'stage.changed': { showId: string; known: KnownStage; done: readonly string[] };
  };
  listings: {
    'listing.changed': { showId: string; listing: Listing };
    /** Where the show goes has changed; the list is read afresh. */
    'destinations.chosen': { showId: string };
  };
  chat: {
    'messages.added': { showId: string; messages: readonly ChatMessage[] };
    'line.changed': ChatLine;
    /** An empty note: there is none any more. Other shows in which the viewer wrote read it with their chat. */
    'viewer.noted': { showId: string; note: ViewerNote };
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

export type TopicEvents = HouseEvents & ShowEvents;
export type Topic = keyof TopicEvents;
export type ShowTopic = keyof ShowEvents;
/** A topic of the house, or one of a show: `chat/<showId>`. */
export type StreamName = keyof HouseEvents | `${ShowTopic}/${string}`;

const HOUSE_TOPICS = ['shows', 'team', 'destinations'] as const satisfies readonly (keyof HouseEvents)[];
const SHOW_TOPICS = ['programme', 'stage', 'listings', 'chat'] as const satisfies readonly ShowTopic[];

export const streamOf = <T extends ShowTopic>(topic: T, showId: string): `${T}/${string}` =>
  `${topic}/${showId}`;
export const topicOf = (stream: StreamName): Topic => stream.split('/')[0] as Topic;
/** Null: of the house. */
export const showOf = (stream: StreamName): string | null => stream.split('/')[1] ?? null;

/** Which right a member needs to follow a topic. */
export const TOPIC_RIGHTS: Readonly<Record<Topic, Right>> = {
  shows: 'shows.read',
  team: 'team.read',
  destinations: 'destinations.read',
  programme: 'desk.open',
  stage: 'desk.open',
  listings: 'shows.read',
  chat: 'chat.read',
};

export type TopicOf<S extends StreamName> = S extends `${infer T extends ShowTopic}/${string}`
  ? T
  : S & keyof HouseEvents;
export type EventType<T extends Topic> = keyof TopicEvents[T] & string;

/** One event as it travels and is kept. `atMs`: when it was written, by the clock. */
export type StreamEvent<T extends Topic = Topic> = {
  [K in Topic]: {
    [E in EventType<K>]: {
      readonly stream: K extends ShowTopic ? `${K}/${string}` : K;
      readonly seq: number;
      readonly atMs: number;
      readonly type: E;
      readonly payload: TopicEvents[K][E];
    };
  }[EventType<K>];
}[T];

/** What a client asks of the socket: asked again, what comes after that number comes again. */
export const Follow = z.object({
  stream: z.union([z.enum(HOUSE_TOPICS), z.templateLiteral([z.enum(SHOW_TOPICS), '/', Id])]),
  /** Everything after this number. */
  after: z.int().check(z.minimum(0)),
});
export type Follow = z.infer<typeof Follow>;

/** Events of a stream that are kept, unless they are older than {@link EVENTS_KEPT_MS}; whoever is further behind is told
 * to read the list afresh. */
export const EVENTS_KEPT = 5000;
export const EVENTS_KEPT_MS = 7 * 24 * 3600 * 1000;

/** `viewers` null: the place does not say. */
export interface ViewersCounted {
  readonly showId: string;
  readonly destinationId: string;
  readonly viewers: number | null;
}

export interface FollowAnswer {
  /** False: refused, or not understood. */
  readonly ok: boolean;
  /** The numbers asked for are no longer kept: read the list again and follow from its number. */
  readonly startAfresh: boolean;
}

/** The one typed map of what passes over the socket, both ways. */
export interface ServerToClient {
  events: (batch: readonly StreamEvent[]) => void;
  /** Bitrates, times and the like, about once a second, to whoever follows the show's `programme`. Not numbered: the next ones come soon. */
  figures: (atMs: number, programme: ProgrammeReport) => void;
  /** Who watches a show where, as the places count, to whoever follows its `listings`. Not numbered either. */
  viewers: (counted: readonly ViewersCounted[]) => void;
  /** The session has ended: signed out elsewhere, or removed from the team. */
  signed_out: () => void;
}
export interface ClientToServer {
  follow: (request: Follow, answer: (result: FollowAnswer) => void) => void;
  unfollow: (stream: StreamName) => void;
}
