import type { MessageKind, ReactionCounts } from '@juncta/core/chat';
import type { SettingValues } from '@juncta/core/listings';
import type { PlaceChatRules } from '@juncta/contract/chat';
import type { PlaceHealth } from '@juncta/contract/feeds';
import type { Destination, HouseRules } from '@juncta/contract/destinations';
import type { AskPlace } from '../ask-place';

/** What a connector is given of a destination: where it is, and its secret, unlocked for this one call. */
export interface Target {
  readonly id: string;
  readonly address: string;
  readonly secret: string;
  /** Where in the account; null where there is no account. */
  readonly placement: string | null;
  /** Where its feed goes in, at places that have regions; null: the place's first. */
  readonly region?: string | null;
}

/** Where a feed is to be sent. */
export interface IngestPoint {
  /** `rtmp(s)://host[:port]/app`. */
  readonly address: string;
  readonly key: string;
  /** Another door of the same event, tried in turn when the first does not answer; missing: there is none. */
  readonly backup?: string;
}

/** One of the regions in which a place takes feeds. */
export interface PlaceRegion {
  readonly region: string;
  /** `rtmp(s)://host[:port]/app`. */
  readonly address: string;
}

/** What is to be presented there. */
export interface ListingDraft {
  readonly title: string;
  readonly description: string;
  /** The slot; null: without one, at once. */
  readonly startsAtMs: number | null;
  /** What is to be different from the place's default, and what was before and is not any more. */
  readonly settings: SettingValues;
  /** Our own name of this listing, so that it is not made twice. */
  readonly reference: string;
  /** The place's own name of the event made for it before; null: none yet. */
  readonly eventRef: string | null;
}

/** A listing as it is at its place now. */
export interface RemoteListing {
  readonly eventRef: string;
  readonly pageUrl: string;
  /** Of a player for pages of others; null: the place has none, or lets nobody. */
  readonly embedUrl: string | null;
  readonly state: 'booked' | 'open' | 'closed' | 'lapsed';
  readonly title: string;
  readonly description: string;
  readonly startsAtMs: number | null;
  readonly settings: SettingValues;
}

/** Events that can be made ahead of their time. */
export interface PlaceBooking {
  /** Makes the event, or brings the one there is up to date. */
  book(target: Target, draft: ListingDraft, ask: AskPlace): Promise<RemoteListing>;
  /** Those of this placement that wait, whoever made them. */
  list(target: Target, ask: AskPlace): Promise<RemoteListing[]>;
  /** Null: it is gone. */
  find(target: Target, eventRef: string, ask: AskPlace): Promise<RemoteListing | null>;
  cancel(target: Target, eventRef: string, ask: AskPlace): Promise<void>;
  /** Gives an event its picture, a JPEG; missing: the place takes none from outside. */
  readonly givePicture?: (target: Target, eventRef: string, jpeg: Buffer, ask: AskPlace) => Promise<void>;
}

/** An account whose owner can let us in (RFC 6749, 4.1, with RFC 7636). */
export interface PlaceAccounts {
  /** What we ask to be allowed. */
  readonly scopes: readonly string[];
  /** Which account it is, and what its owner gave. */
  account(target: Target, ask: AskPlace): Promise<GivenAccount>;
  placements(target: Target, ask: AskPlace): Promise<PlacePlacement[]>;
}
export interface GivenAccount {
  readonly id: string;
  readonly scopes: string[];
  readonly widest: string | null;
}
export interface PlacePlacement {
  readonly id: string;
  readonly kind: string;
  readonly name: string;
  /** In the place's words; null: nothing. */
  readonly missing: string | null;
}

/** A listing that is there, and where its feed goes. */
export interface Opened {
  readonly ingest: IngestPoint;
  readonly eventRef: string | null;
  /** Where viewers find it; null: the destination's own page. */
  readonly pageUrl: string | null;
  /** Of a player for pages of others; null: the place has none, or lets nobody. */
  readonly embedUrl: string | null;
}

/** What somebody sees who looks at the place from outside. */
export interface PublicStatus {
  readonly public: boolean;
  /** Null: the place does not say. */
  readonly viewers: number | null;
  /** How far behind the programme its page is, measured there and then, ms; null or missing: it does not say. */
  readonly delayMs?: number | null;
  /** What the place says of what it receives; null: nothing. */
  readonly health: PlaceHealth | null;
}

/** A message as a place has it. One that was changed since comes again. */
export interface PlaceMessage {
  /** The place's own name of it. */
  readonly id: string;
  /** Where it stands in what the place tells: for going on from there. */
  readonly seq: string;
  /** `private`: to the house alone; `follow` and `sale`: what the place tells of a viewer. */
  readonly kind: MessageKind;
  readonly writtenAtMs: number;
  readonly author: {
    readonly id: string;
    readonly name: string;
    readonly owner: boolean;
    /** What the place shows beside the name. */
    readonly badges: readonly string[];
    /** Age of the account, days; null: the place does not say. */
    readonly accountDays: number | null;
  };
  readonly text: string;
  readonly replyTo: string | null;
  /** When its writer changed it; null: never. */
  readonly editedAtMs: number | null;
  /** Its writer or the place took it back. */
  readonly deleted: boolean;
}

/** Whoever follows a chat. */
export interface ChatListener {
  /** Messages in the place's order, and how far that was read. What is not kept comes again. */
  messages(arrived: readonly PlaceMessage[], cursor: string | null): Promise<void>;
  /** What viewers pressed since the place began to count. */
  reacted(totals: ReactionCounts): Promise<void>;
  opened(): void;
  /** The line broke or the place has troubles: it is made again by the connector. */
  lost(why: string): void;
  /** The place says no. Nothing more is tried. */
  refused(why: string): void;
}

/** The chat of a place. */
export interface ChatConnector {
  /** Follows from after `cursor` until `stopped`, over all breaks. Settles when it has stopped or was refused. */
  follow(
    target: Target,
    eventRef: string | null,
    cursor: string | null,
    ask: AskPlace,
    listener: ChatListener,
    stopped: AbortSignal,
  ): Promise<void>;
  /** Writes in the house's name; gives the message as the place has it. Null: it can only be read. */
  readonly write:
    | ((
        target: Target,
        eventRef: string | null,
        text: string,
        replyTo: string | null,
        ask: AskPlace,
      ) => Promise<PlaceMessage>)
    | null;
  /** Hides a message from the viewers there, or shows it again; missing: that cannot be done from outside. */
  readonly hide?: (
    target: Target,
    eventRef: string | null,
    messageId: string,
    hidden: boolean,
    ask: AskPlace,
  ) => Promise<void>;
  /** Shuts a writer out there, or lets them in again; missing: that cannot be done from outside. */
  readonly ban?: (
    target: Target,
    eventRef: string | null,
    authorId: string,
    banned: boolean,
    ask: AskPlace,
  ) => Promise<void>;
  /** Missing: nothing can be set there from outside. */
  readonly control?: PlaceChatControl;
}

/** What a place lets its owner say about who may write, and how often. */
export interface PlaceChatControl {
  readonly most: { readonly slowSeconds: number; readonly accountDays: number };
  /** Sets those that are not null, if any are given; gives what holds there then. */
  rules(
    target: Target,
    eventRef: string | null,
    wanted: PlaceChatRules | null,
    ask: AskPlace,
  ): Promise<PlaceChatRules>;
}

/**
 * One kind of place. Everything that is peculiar to it stays in its own folder; the rest of the server goes by this.
 * Calls may be repeated, and throw `PlaceAway` or `PlaceRefused`.
 */
export interface Connector {
  /** What the place allows, as we last knew. */
  readonly rules: HouseRules;
  /** What happens when our stream arrives. */
  readonly arrival: 'public' | 'held';
  /** Makes the listing there, or sets what is there to it, and says where the feed goes. */
  open(target: Target, listing: ListingDraft, ask: AskPlace): Promise<Opened>;
  /** Where the place takes feeds; missing: in one region only. */
  readonly regions?: (target: Target, ask: AskPlace) => Promise<PlaceRegion[]>;
  /** Null: nothing can be made there ahead of its time. */
  readonly booking: PlaceBooking | null;
  /** Null: it is reached by server address and key. */
  readonly accounts: PlaceAccounts | null;
  /** Null: nobody can look, so the feed stays `sending`. */
  readonly look: ((target: Target, eventRef: string | null, ask: AskPlace) => Promise<PublicStatus>) | null;
  /** Makes public what is held there; null: the place does so by itself. */
  readonly publish: ((target: Target, eventRef: string | null, ask: AskPlace) => Promise<void>) | null;
  /** Ends the event there; null: the end of the feed is the end. */
  readonly end: ((target: Target, eventRef: string | null, ask: AskPlace) => Promise<void>) | null;
  /** Null: there is none that we can read. */
  readonly chat: ChatConnector | null;
}

export type Kind = Destination['kind'];
