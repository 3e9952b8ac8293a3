import { NO_CHAT_BOX, type ChatBox } from './chat-box';
import type { Corner } from './layouts';
import { BUG_LAYER, type Layer, type Scene } from './scene';
import { sourceId, type SourceId } from './sources';

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
};

export type GraphicsChange =
  | { readonly type: 'ticker'; readonly values: Partial<Ticker> }
  | { readonly type: 'clock'; readonly values: Partial<OnScreenClock> }
  | { readonly type: 'score'; readonly values: Partial<Pick<ScoreBoard, 'isOn' | 'names'>> }
  /** More or fewer points: two desks that count at once both count. */
  | { readonly type: 'points'; readonly side: Side; readonly by: number }
  | { readonly type: 'chat'; readonly values: Partial<ChatBox> }
  | { readonly type: 'link'; readonly values: Partial<LinkCard> }
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
    case 'points_reset':
      return { ...graphics, score: { ...score, points: [0, 0] } };
  }
}

/** All of it off the picture; what was written in it stays for the next time, what was counted does not. */
export const graphicsOff = ({ ticker, clock, score, chat, link }: Graphics): Graphics => ({
  ticker: { ...ticker, isOn: false },
  clock: { ...clock, isOn: false, untilMs: null },
  score: { ...score, isOn: false, points: [0, 0] },
  chat: { ...chat, isOn: false },
  link: { ...link, isOn: false },
});

/** Whether a ticker has anything to run, a clock anything to count, and a link anywhere to lead. */
export const hasTicker = ({ ticker }: Graphics): boolean => ticker.isOn && ticker.lines.length > 0;
export const hasClock = ({ clock }: Graphics): boolean =>
  clock.isOn && (clock.reads === 'time_of_day' || clock.untilMs !== null);

export const hasLink = ({ link }: Graphics): boolean => link.isOn && link.address !== '';

/** An address as somebody wrote it, with what goes without saying added; null: it is none. */
export function readAddress(written: string): string | null {
  const trimmed = written.trim();
  const whole = /^[a-z][a-z0-9+.-]*:/i.test(trimmed) ? trimmed : `https://${trimmed}`;
  if (!URL.canParse(whole) || whole.length > LINK_ADDRESS_MAX) return null;
  const { protocol, hostname, username } = new URL(whole);
  const isWeb = protocol === 'https:' || protocol === 'http:';
  return isWeb && username === '' && /[^.]\.[^.]/.test(hostname) ? whole : null;
}

/** As it is read: without what a browser adds itself. */
export const addressWords = (address: string): string =>
  address.replace(/^https?:\/\//i, '').replace(/\/$/, '');

export const TICKER_LAYER: SourceId = sourceId('overlay', 'ticker');
export const CLOCK_LAYER: SourceId = sourceId('overlay', 'clock');
export const SCORE_LAYER: SourceId = sourceId('overlay', 'score');
export const CHAT_LAYER: SourceId = sourceId('overlay', 'chat');
export const LINK_LAYER: SourceId = sourceId('overlay', 'link');

/** Of the picture's width. */
const CLOCK_WIDTH = 0.12;
const SCORE_WIDTH = 0.42;
const CHAT_WIDTHS: Readonly<Record<ChatBox['size'], number>> = { small: 0.24, large: 0.32 };

/**
 * A scene with the desk's graphics over it: the ticker at its foot; the clock beside the words of the house, the score board in
 * the other upper corner; viewers' messages at one side. None moves another when it comes.
 */
export function withGraphics(scene: Scene, graphics: Graphics): Scene {
  const corner = bugCornerOf(scene);
  const layers: Layer[] = [];
  if (hasTicker(graphics)) layers.push({ source: TICKER_LAYER, place: { by: 'band' } });
  const isFootTaken = scene.layers.some(({ place }) => place.by === 'foot');
  if (hasLink(graphics) && !isFootTaken) layers.push({ source: LINK_LAYER, place: { by: 'foot' } });
  if (graphics.chat.isOn) {
    const { side, size } = graphics.chat;
    layers.push({ source: CHAT_LAYER, place: { by: 'side', side, width: CHAT_WIDTHS[size] } });
  }
  if (hasClock(graphics))
    layers.push({ source: CLOCK_LAYER, place: { by: 'corner', corner, width: CLOCK_WIDTH } });
  if (graphics.score.isOn)
    layers.push({
      source: SCORE_LAYER,
      place: { by: 'corner', corner: OPPOSITE[corner], width: SCORE_WIDTH },
    });
  return { ...scene, layers: [...scene.layers, ...layers] };
}

const OPPOSITE: Readonly<Record<Corner, Corner>> = { top_left: 'top_right', top_right: 'top_left' };

/** Where the words of the house stand, or would stand. */
function bugCornerOf({ layers }: Scene): Corner {
  const bug = layers.find(({ source }) => source === BUG_LAYER);
  return bug?.place.by === 'corner' ? bug.place.corner : 'top_right';
}

/**
 * What a clock on the picture reads. A countdown shows whole seconds that are not over yet, and stays at nought.
 *
 * @returns `H:MM:SS` or `M:SS` of a countdown, `HH:MM` of a time of day
 */
export function clockWords(clock: Pick<OnScreenClock, 'reads' | 'zone' | 'untilMs'>, nowMs: number): string {
  if (clock.reads === 'time_of_day') return timeIn(clock.zone).format(nowMs);
  const left = Math.max(0, Math.ceil(((clock.untilMs ?? nowMs) - nowMs) / 1000));
  const [hours, minutes, seconds] = [Math.floor(left / 3600), Math.floor(left / 60) % 60, left % 60];
  const two = (value: number) => String(value).padStart(2, '0');
  return hours > 0 ? `${hours}:${two(minutes)}:${two(seconds)}` : `${minutes}:${two(seconds)}`;
}

const formats = new Map<string, Intl.DateTimeFormat>();
/** Making a format is dear, and a clock is read with every frame. */
function timeIn(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone);
  if (known) return known;
  const made = new Intl.DateTimeFormat('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
    timeZone: zone,
  });
  formats.set(zone, made);
  return made;
}

/** So much of the picture's height a ticker runs in a second. A frame's step is whole at 30 and at 60 frames. */
const TICKER_SPEED = 1 / 6;

/**
 * How far a ticker has run since it came on, in pixels of a picture of this height; it begins anew after its whole length.
 *
 * @param length of all its lines, px
 */
export function tickerOffset(sinceMs: number, height: number, length: number): number {
  if (length <= 0) return 0;
  return Math.round((sinceMs / 1000) * height * TICKER_SPEED) % length;
}

/** What somebody wrote as a ticker, a line below another. */
export interface WrittenTicker {
  /** Trimmed, without empty ones. */
  readonly lines: readonly string[];
  /** The first that is longer than {@link TICKER_LINE_MAX}; null: none is. */
  readonly tooLong: string | null;
  /** More than {@link TICKER_LINES_MAX}. */
  readonly tooMany: boolean;
}

export function readTicker(text: string): WrittenTicker {
  const lines = text
    .split('\n')
    .map((line) => line.replaceAll(/\s+/g, ' ').trim())
    .filter((line) => line !== '');
  return {
    lines,
    tooLong: lines.find((line) => line.length > TICKER_LINE_MAX) ?? null,
    tooMany: lines.length > TICKER_LINES_MAX,
  };
}
