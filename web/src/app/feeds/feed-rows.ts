import type { Destination } from '@juncta/contract/destinations';
import type { Listing } from '@juncta/contract/listings';
import type { FeedReport, RenditionReport } from '@juncta/contract/relay';
import { feedDeadline, isUnderWay, type FeedState } from '@juncta/core/feeds';
import { formatShowTime } from '@juncta/core/programme';
import { feedStateNames } from '../look/look.texts';
import type { MarkedState } from '../look/state-mark';
import { renditionTexts } from '../renditions/renditions.texts';
import { endEffectOf } from './feed-sheet';
import { coveredFeed, feedReasons, feedSentences, feedSheetTexts, feedTexts } from './feeds.texts';

const HOUR = 3_600_000;
/** That an event will lapse concerns nobody a day before. */
const LAPSE_TOLD_MS = 2 * HOUR;

/** A destination on the board of feeds, in words and figures. */
export interface FeedOnBoard {
  readonly destination: Destination;
  /** What it is called among the others. */
  readonly label: string;
  readonly listing: Listing | null;
  readonly state: FeedState;
  readonly mark: MarkedState;
  readonly word: string;
  readonly sentence: string;
  /** Lamp and word say all there is to say. */
  readonly isCalm: boolean;
  /** What the end of its feed does there. */
  readonly endSentence: string;
  /** What the place does next by itself, counted down; null: nothing that we know of. */
  readonly deadline: string | null;
  /** Starts and publishes; null: it has none. */
  readonly shortcut: string | null;
  /** A key of its own: whoever starts a feed with one press too many must not end it. */
  readonly endShortcut: string | null;
  /** Null: the place does not say, or nothing goes there. */
  readonly viewers: number | null;
  /** It can be published by us. */
  readonly held: boolean;
  readonly ending: boolean;
  readonly underWay: boolean;
  readonly onAir: string | null;
  /** Frames. */
  readonly leftOut: number;
  /** What is encoded apart for it; null: it gets the programme. */
  readonly rendition: RenditionReport | null;
  /** Which picture of what was sent there can be looked at; null: none. */
  readonly still: number | null;
  /** What is wrong with that; empty: nothing. */
  readonly encoding: string;
}

interface Known {
  readonly destination: Destination;
  readonly label: string;
  readonly listing: Listing | null;
  readonly feed: FeedReport | undefined;
  readonly rendition: RenditionReport | null;
  /** On the board, from 0. */
  readonly place: number;
  /** Viewers see the slate. */
  readonly covered: boolean;
  /** By the house's clock. */
  readonly houseMs: number;
  readonly distance: (atMs: number, nowMs: number) => string;
}

export function feedRow({
  destination,
  label,
  listing,
  feed,
  rendition,
  place,
  covered,
  houseMs,
  distance,
}: Known): FeedOnBoard {
  const state = feed?.state ?? 'off';
  const told = toldOf(feed, covered);
  return {
    destination,
    label,
    listing,
    state,
    ...told,
    endSentence: feedSheetTexts.end[endEffectOf(destination, listing)],
    deadline: deadlineOf(feed, listing?.bookedSlotMs ?? null, destination, houseMs, distance),
    shortcut: place < 9 ? `Shift+${place + 1}` : null,
    endShortcut: place < 9 ? `Alt+Shift+${place + 1}` : null,
    viewers: isUnderWay(state) ? (listing?.viewers ?? null) : null,
    held: state === 'held' && destination.rules.capabilities.goingPublic === 'by_api',
    ending: listing?.state === 'ending',
    underWay: isUnderWay(state),
    onAir: feed?.onAirMs == null ? null : formatShowTime(feed.onAirMs),
    leftOut: feed?.leftOutFrames ?? 0,
    rendition,
    still: feed?.still ?? null,
    encoding: rendition && rendition.state !== 'starting' ? renditionTexts.states[rendition.state] : '',
  };
}

/** What a row says of its feed. A place that has the slate is on air with nothing of the show. */
function toldOf(feed: FeedReport | undefined, covered: boolean) {
  const state = feed?.state ?? 'off';
  if (covered && (state === 'on_air' || state === 'sending'))
    return {
      mark: 'feed.covered' as const,
      word: coveredFeed.word,
      sentence: coveredFeed.text,
      isCalm: false,
    };
  const isCalm = state === 'on_air' || (state === 'ended' && feed?.reason !== 'ended_by_place');
  return {
    mark: `feed.${state}` as const,
    word: feedStateNames[state],
    sentence: sentenceOf(feed),
    isCalm: isCalm && !feed?.placeSays,
  };
}

function sentenceOf(feed: FeedReport | undefined): string {
  if (!feed) return feedSentences.off;
  const own = feed.reason ? feedReasons[feed.reason] : feedSentences[feed.state];
  const attempt = feed.attempt > 1 && isUnderWay(feed.state) ? ` (${feedTexts.attempt(feed.attempt)})` : '';
  return `${own}${attempt}${feed.placeSays ? ` ${feedTexts.placeSays(feed.placeSays)}` : ''}`;
}

function deadlineOf(
  feed: FeedReport | undefined,
  bookedSlotMs: number | null,
  { rules }: Destination,
  houseMs: number,
  distance: Known['distance'],
): string | null {
  // Slots go by the house's clock, which a rehearsal moves; feeds by the world's.
  const nowMs = !feed || feed.state === 'off' || feed.state === 'dialling' ? houseMs : Date.now();
  const deadline = feedDeadline(feed ?? null, bookedSlotMs, rules.capabilities, nowMs);
  if (!deadline) return null;
  const leftMs = deadline.atMs - nowMs;
  if (leftMs < 0) return feedSheetTexts.overdue[deadline.kind];
  if (deadline.kind === 'lapse' && leftMs > LAPSE_TOLD_MS) return null;
  const left = leftMs < HOUR ? formatShowTime(leftMs) : distance(deadline.atMs, nowMs);
  return feedSheetTexts.deadlines[deadline.kind](left);
}
