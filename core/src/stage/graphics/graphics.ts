import { NO_CHAT_BOX, type ChatBox } from './chat-box';

/**
 * What a desk puts over whatever is on programme, beside names and viewers' messages. It stays there while scenes come and go,
 * until somebody takes it off.
 */
export interface Graphics {
  readonly ticker: Ticker;
  readonly clock: OnScreenClock;
  readonly score: ScoreBoard;
  readonly chat: ChatBox;
  readonly link: LinkCard;
  readonly product: ProductCard;
  readonly notices: Notices;
  /** Those of the house's own overlays that are on, by their ids, from the lowest to the highest. */
  readonly overlays: readonly string[];
}

/** Lines that run through a band at the foot of the picture, one after another, without end. */
export interface Ticker {
  readonly isOn: boolean;
  readonly lines: readonly string[];
}

export const CLOCK_READINGS = ['time_of_day', 'countdown'] as const;
export interface OnScreenClock {
  readonly isOn: boolean;
  readonly reads: (typeof CLOCK_READINGS)[number];
  /** Of the time of day: an IANA name. */
  readonly zone: string;
  /** Of a countdown, ms since the epoch; null: nothing is counted down to yet. */
  readonly untilMs: number | null;
}

/** Two sides and their points. */
export interface ScoreBoard {
  readonly isOn: boolean;
  readonly names: readonly [string, string];
  readonly points: readonly [number, number];
}
export const SIDES = [0, 1] as const;
export type Side = (typeof SIDES)[number];

/** A line and an address, which viewers read or take off the screen with a phone. */
export interface LinkCard {
  readonly isOn: boolean;
  readonly line: string;
  /** `http` or `https`; empty: none yet. */
  readonly address: string;
}

/** What can be bought, and where. It stands in the place of a link. */
export interface ProductCard {
  readonly isOn: boolean;
  readonly name: string;
  /** As it is written, with its currency. */
  readonly price: string;
  /** As of a link. */
  readonly address: string;
}

/** What places tell of followers and sales, each for a moment at the foot of the picture. */
export interface Notices {
  readonly isOn: boolean;
  readonly staysS: (typeof NOTICE_STAYS_S)[number];
  /** Said to whoever follows or bought, after what the place told; empty: nothing is. */
  readonly thanks: string;
}
export const NOTICE_STAYS_S = [4, 7, 12] as const;

/** UTF-16 units. */
export const PRODUCT_NAME_MAX = 40;
export const PRICE_MAX = 20;
export const THANKS_MAX = 40;

/** UTF-16 units: what is read in passing, and what a square of that size can hold. */
export const LINK_LINE_MAX = 60;
export const LINK_ADDRESS_MAX = 200;

export const TICKER_LINES_MAX = 20;
/** The longest line of a ticker, UTF-16 units: about a quarter of a minute to read. */
export const TICKER_LINE_MAX = 140;
/** The longest name of a side, UTF-16 units: what has room in one line beside the points. */
export const SIDE_NAME_MAX = 18;
export const MOST_POINTS = 999;

export const NO_GRAPHICS: Graphics = {
  ticker: { isOn: false, lines: [] },
  clock: { isOn: false, reads: 'time_of_day', zone: 'UTC', untilMs: null },
  score: { isOn: false, names: ['', ''], points: [0, 0] },
  chat: NO_CHAT_BOX,
  link: { isOn: false, line: '', address: '' },
  product: { isOn: false, name: '', price: '', address: '' },
  notices: { isOn: false, staysS: 7, thanks: '' },
  overlays: [],
};

export const MOST_OVERLAYS_ON = 8;

export type GraphicsChange =
  | { readonly type: 'ticker'; readonly values: Partial<Ticker> }
  | { readonly type: 'clock'; readonly values: Partial<OnScreenClock> }
  | { readonly type: 'score'; readonly values: Partial<Pick<ScoreBoard, 'isOn' | 'names'>> }
  /** More or fewer points: two desks that count at once both count. */
  | { readonly type: 'points'; readonly side: Side; readonly by: number }
  | { readonly type: 'chat'; readonly values: Partial<ChatBox> }
  | { readonly type: 'link'; readonly values: Partial<LinkCard> }
  | { readonly type: 'product'; readonly values: Partial<ProductCard> }
  | { readonly type: 'notices'; readonly values: Partial<Notices> }
  /** One that comes on stands over the others. */
  | { readonly type: 'overlay'; readonly id: string; readonly isOn: boolean }
  /** Both sides at none again. */
  | { readonly type: 'points_reset' };

export function changeGraphics(graphics: Graphics, change: GraphicsChange): Graphics {
  const { score } = graphics;
  switch (change.type) {
    case 'ticker':
      return { ...graphics, ticker: { ...graphics.ticker, ...change.values } };
    case 'clock':
      return { ...graphics, clock: { ...graphics.clock, ...change.values } };
    case 'score':
      return { ...graphics, score: { ...score, ...change.values } };
    case 'points': {
      const [first, second] = SIDES.map((side) =>
        side === change.side
          ? Math.max(0, Math.min(MOST_POINTS, score.points[side] + change.by))
          : score.points[side],
      ) as [number, number];
      return { ...graphics, score: { ...score, points: [first, second] } };
    }
    case 'chat':
      return { ...graphics, chat: { ...graphics.chat, ...change.values } };
    case 'link':
      return { ...graphics, link: { ...graphics.link, ...change.values } };
    case 'product':
      return { ...graphics, product: { ...graphics.product, ...change.values } };
    case 'notices':
      return { ...graphics, notices: { ...graphics.notices, ...change.values } };
    case 'overlay': {
      const { id, isOn } = change;
      if (graphics.overlays.includes(id) === isOn) return graphics;
      const others = graphics.overlays.filter((one) => one !== id);
      // As many as a dressing has: those of another one are forgotten first.
      return { ...graphics, overlays: isOn ? [...others, id].slice(-MOST_OVERLAYS_ON) : others };
    }
    case 'points_reset':
      return { ...graphics, score: { ...score, points: [0, 0] } };
  }
}

/** All of it off the picture; what was written in it stays for the next time, what was counted does not. */
export const graphicsOff = (graphics: Graphics): Graphics => ({
  ticker: { ...graphics.ticker, isOn: false },
  clock: { ...graphics.clock, isOn: false, untilMs: null },
  score: { ...graphics.score, isOn: false, points: [0, 0] },
  chat: { ...graphics.chat, isOn: false },
  link: { ...graphics.link, isOn: false },
  product: { ...graphics.product, isOn: false },
  notices: { ...graphics.notices, isOn: false },
  overlays: [],
});

export const isAnyGraphicOn = ({ overlays, ...others }: Graphics): boolean =>
  overlays.length > 0 || Object.values(others).some(({ isOn }) => isOn);

/** Whether a ticker has anything to run, a clock anything to count, and a link anywhere to lead. */
export const hasTicker = ({ ticker }: Graphics): boolean => ticker.isOn && ticker.lines.length > 0;
export const hasClock = ({ clock }: Graphics): boolean =>
  clock.isOn && (clock.reads === 'time_of_day' || clock.untilMs !== null);

export const hasLink = ({ link }: Graphics): boolean => link.isOn && link.address !== '';
export const hasProduct = ({ product }: Graphics): boolean => product.isOn && product.name !== '';
