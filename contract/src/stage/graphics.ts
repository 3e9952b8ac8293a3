import {
  BOX_GROUNDS,
  BOX_SIDES,
  BOX_SIZES,
  BOX_STAYS_S,
  CLOCK_READINGS,
  LINK_ADDRESS_MAX,
  LINK_LINE_MAX,
  MOST_BOX_DELAY_S,
  MOST_IN_BOX,
  MOST_OVERLAYS_ON,
  MOST_POINTS,
  NOTICE_STAYS_S,
  PRICE_MAX,
  PRODUCT_NAME_MAX,
  readAddress,
  SIDE_NAME_MAX,
  THANKS_MAX,
  TICKER_LINE_MAX,
  TICKER_LINES_MAX,
  type Graphics as GraphicsShape,
  type GraphicsChange as GraphicsChangeShape,
  type OverlayBox as OverlayBoxShape,
} from '@juncta/core/stage';
import { COLOUR_PATTERN } from '@juncta/core/dressing';
import { isZone } from '@juncta/core/schedule';
import * as z from 'zod/mini';
import { Id, line } from '../http';

const ticker = z.object({
  isOn: z.boolean(),
  lines: z.array(line(TICKER_LINE_MAX)).check(z.maxLength(TICKER_LINES_MAX)),
});

const clock = z.object({
  isOn: z.boolean(),
  reads: z.enum(CLOCK_READINGS),
  zone: z.string().check(z.maxLength(80), z.refine(isZone, { error: 'unknown_zone' })),
  untilMs: z.nullable(z.int()),
});

const sideName = line(SIDE_NAME_MAX, 0);

const points = z.int().check(z.minimum(0), z.maximum(MOST_POINTS));
const names = z.tuple([sideName, sideName]);

const address = z.string().check(
  z.maxLength(LINK_ADDRESS_MAX),
  z.refine((one) => one === '' || readAddress(one) === one, { error: 'not_an_address' }),
);
const link = z.object({ isOn: z.boolean(), line: line(LINK_LINE_MAX, 0), address });
const product = z.object({
  isOn: z.boolean(),
  name: line(PRODUCT_NAME_MAX, 0),
  price: line(PRICE_MAX, 0),
  address,
});
const notices = z.object({
  isOn: z.boolean(),
  staysS: z.literal(NOTICE_STAYS_S),
  thanks: line(THANKS_MAX, 0),
});

const int = (least: number, most: number) => z.int().check(z.minimum(least), z.maximum(most));
/** More than a team has destinations. */
const MOST_LEFT_OUT = 100;
const box = {
  side: z.enum(BOX_SIDES),
  size: z.enum(BOX_SIZES),
  ground: z.enum(BOX_GROUNDS),
  colour: z.string().check(z.regex(COLOUR_PATTERN)),
  most: int(1, MOST_IN_BOX),
  delayS: int(0, MOST_BOX_DELAY_S),
  staysS: z.nullable(int(BOX_STAYS_S.least, BOX_STAYS_S.most)),
  notices: z.boolean(),
  leftOut: z.array(Id).check(z.maxLength(MOST_LEFT_OUT)),
};
const chat = z.object({ isOn: z.boolean(), ...box });
const overlayBox = z.object({ ...box, card: z.boolean() });
export const OverlayBox: z.ZodMiniType<OverlayBoxShape> = overlayBox;
export const OverlayBoxChange = z.partial(overlayBox) as unknown as z.ZodMiniType<Partial<OverlayBoxShape>>;

export const Graphics: z.ZodMiniType<GraphicsShape> = z.object({
  ticker,
  clock,
  score: z.object({ isOn: z.boolean(), names, points: z.tuple([points, points]) }),
  chat,
  link,
  product,
  notices,
  overlays: z.array(Id).check(z.maxLength(MOST_OVERLAYS_ON)),
});

export const GraphicsChange = z.discriminatedUnion('type', [
  z.object({ type: z.literal('ticker'), values: z.partial(ticker) }),
  z.object({ type: z.literal('clock'), values: z.partial(clock) }),
  z.object({ type: z.literal('score'), values: z.partial(z.object({ isOn: z.boolean(), names })) }),
  z.object({
    type: z.literal('points'),
    side: z.union([z.literal(0), z.literal(1)]),
    by: z.int().check(z.minimum(-MOST_POINTS), z.maximum(MOST_POINTS)),
  }),
  z.object({ type: z.literal('points_reset') }),
  z.object({ type: z.literal('link'), values: z.partial(link) }),
  z.object({ type: z.literal('product'), values: z.partial(product) }),
  z.object({ type: z.literal('notices'), values: z.partial(notices) }),
  z.object({ type: z.literal('overlay'), id: Id, isOn: z.boolean() }),
  z.object({ type: z.literal('chat'), values: z.partial(chat) }),
]) as unknown as z.ZodMiniType<GraphicsChangeShape>;
