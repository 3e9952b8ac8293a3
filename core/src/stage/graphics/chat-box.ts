import type { MessageKind, Standing } from '../../chat';

/** Viewers' messages in the picture, for those who watch with nothing else beside it: how they are shown there. */
export interface ChatBox {
  readonly isOn: boolean;
  readonly side: (typeof BOX_SIDES)[number];
  readonly size: (typeof BOX_SIZES)[number];
  readonly ground: (typeof BOX_GROUNDS)[number];
  /** Of a ground of its own: `#rrggbb`. */
  readonly colour: string;
  /** The most that are seen at once. */
  readonly most: number;
  /** So long after it was written one is seen at the earliest: time to look at it first. */
  readonly delayS: number;
  /** So long one stays; null: until others take its place. */
  readonly staysS: number | null;
  /** What places tell of followers and sales is shown too. */
  readonly notices: boolean;
  /** Destinations whose viewers are left out. */
  readonly leftOut: readonly string[];
}

export const BOX_SIDES = ['left', 'right'] as const;
export const BOX_SIZES = ['small', 'large'] as const;
/** What words stand on: the dressing's paper, a shade of its ground, a colour of its own, or nothing but the picture. */
export const BOX_GROUNDS = ['paper', 'ground', 'own', 'none'] as const;
export const MOST_IN_BOX = 8;
export const MOST_BOX_DELAY_S = 60;
export const BOX_STAYS_S = { least: 5, most: 300 } as const;

export const NO_CHAT_BOX: ChatBox = {
  isOn: false,
  side: 'right',
  size: 'small',
  ground: 'ground',
  colour: '#2f4858',
  most: 5,
  delayS: 3,
  staysS: 30,
  notices: true,
  leftOut: [],
};

/**
 * Viewers' messages on a page with nothing behind them, which an outside encoder lays over its picture: it has a look of its own.
 */
export interface OverlayBox extends Omit<ChatBox, 'isOn'> {
  /** The message that a desk puts on the programme is shown too. */
  readonly card: boolean;
}

/** Whoever makes their picture elsewhere sees it before any viewer does: there is less to wait for. */
export const USUAL_OVERLAY_BOX: OverlayBox = (({ isOn: _, ...box }) => ({
  ...box,
  ground: 'none' as const,
  card: true,
}))(NO_CHAT_BOX);

/** A viewer's message as it is written in the picture. */
export interface BoxLine {
  readonly author: string;
  /** Where they watch. */
  readonly place: string;
  readonly text: string;
}

/** What of a message decides whether viewers see it in the picture. */
export interface BoxedMessage {
  readonly id: string;
  readonly destinationId: string;
  readonly kind: MessageKind;
  readonly standing: Standing;
  readonly takenBack: boolean;
  readonly writtenAtMs: number;
}

/**
 * The messages that are in the picture now, the newest last. Only what moderation lets through: nothing that waits, is hidden
 * or was taken back, and nothing that was written to the house alone.
 *
 * @param messages in the order of writing
 */
export function messagesInBox<M extends BoxedMessage>(
  messages: readonly M[],
  box: ChatBox,
  nowMs: number,
): M[] {
  if (!box.isOn) return [];
  const [delayMs, staysMs] = [box.delayS * 1000, box.staysS === null ? Infinity : box.staysS * 1000];
  return messages
    .filter(({ kind, standing, takenBack, destinationId, writtenAtMs }) => {
      if (standing !== 'shown' || takenBack || box.leftOut.includes(destinationId)) return false;
      if (kind === 'private' || (kind !== 'message' && !box.notices)) return false;
      const seenForMs = nowMs - writtenAtMs - delayMs;
      return seenForMs >= 0 && seenForMs < staysMs;
    })
    .slice(-box.most);
}
