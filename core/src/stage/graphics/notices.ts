import type { BoxedMessage } from './chat-box';

/** What is said of followers and sales at the foot of the picture, and what waits to be said. */
export interface NoticesSaid<M extends BoxedMessage> {
  /** In the order of writing. */
  readonly waiting: readonly M[];
  /** Said now, at once; none: nothing is. */
  readonly said: readonly M[];
  readonly untilMs: number;
  /** The ids of those that had their time, the latest last. */
  readonly past: readonly string[];
}

export const NOTHING_SAID: NoticesSaid<never> = { waiting: [], said: [], untilMs: -Infinity, past: [] };

/** Those that came while others were said are said together from so many on: a sale is no queue. */
const TOGETHER_FROM = 3;
/** More are not kept: whoever is named last was not forgotten, but is counted. */
const MOST_WAITING = 100;
const MOST_PAST = 1000;

const mayBeSaid = ({ kind, standing, takenBack }: BoxedMessage): boolean =>
  (kind === 'follow' || kind === 'sale') && standing === 'shown' && !takenBack;

/**
 * What is said from now on.
 *
 * @param came since it was asked last, or stand otherwise now
 */
export function sayNotices<M extends BoxedMessage>(
  before: NoticesSaid<M>,
  came: readonly M[],
  staysMs: number,
  nowMs: number,
): NoticesSaid<M> {
  const news = new Map(came.map((one) => [one.id, one]));
  const asTheyStand = (those: readonly M[]) => those.map((one) => news.get(one.id) ?? one).filter(mayBeSaid);
  const known = new Set([...before.past, ...[...before.waiting, ...before.said].map(({ id }) => id)]);
  const added = came.filter((one) => mayBeSaid(one) && !known.has(one.id));
  const waiting = [...asTheyStand(before.waiting), ...added].slice(-MOST_WAITING);
  const said = asTheyStand(before.said);
  if (said.length > 0 && nowMs < before.untilMs) return { ...before, waiting, said };
  const past = [...before.past, ...before.said.map(({ id }) => id)].slice(-MOST_PAST);
  const [first] = waiting;
  if (!first) return { ...NOTHING_SAID, past };
  const alike = waiting.filter(({ kind }) => kind === first.kind);
  const next = alike.length >= TOGETHER_FROM ? alike : [first];
  const left = waiting.filter((one) => !next.includes(one));
  return { waiting: left, said: next, untilMs: nowMs + staysMs, past };
}

/** What came while nothing is to be said is not said later. */
export const passNotices = <M extends BoxedMessage>(
  before: NoticesSaid<M>,
  came: readonly M[],
): NoticesSaid<M> => ({
  ...NOTHING_SAID,
  past: [
    ...before.past,
    ...[...before.waiting, ...before.said, ...came]
      .filter(({ kind }) => kind === 'follow' || kind === 'sale')
      .map(({ id }) => id),
  ].slice(-MOST_PAST),
});
