import { SETTING_IDS, TEXT_UNITS } from '@juncta/core/listings';
import { PICTURE_SHAPES } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { seen } from '../http/fields';

/**
 * The capabilities by which a connector describes its place. Everything outside a connector's own folder goes
 * by these and never by the place's name. They are data: the team can correct them when a place changes its
 * rules, which is why each set is dated and names its source.
 */

/** What a place counts a text's length in. */
export const TextUnit = z.enum(TEXT_UNITS);

export const TextRule = z.object({ max: z.int(), unit: TextUnit });

const SettingValue = z.nullable(
  z.union([
    z.boolean(),
    z.string().check(z.maxLength(2000)),
    z.readonly(z.array(z.string().check(z.maxLength(200)))),
  ]),
);
/** Values by setting; one that is missing or null is inherited. */
export const SettingValues = z.partialRecord(z.enum(SETTING_IDS), SettingValue);

/** The same as somebody writes them, on a page or in a file. */
export const WrittenSettings = z.partialRecord(
  z.enum(SETTING_IDS),
  z.nullable(z.union([z.boolean(), seen(2000), z.readonly(z.array(seen(200)))])),
);

export const PlaceSetting = z.object({
  id: z.enum(SETTING_IDS),
  options: z.readonly(z.array(z.string())),
  placeDefault: SettingValue,
  required: z.boolean(),
  from: z.enum(['api', 'by_hand']),
  onAir: z.boolean(),
});

export const Booking = z.discriminatedUnion('kind', [
  /** A slot can be booked through the API, this far ahead of its start. */
  z.object({ kind: z.literal('by_api'), leastMinutes: z.int(), mostMinutes: z.int() }),
  /** An event is prepared by hand over there, and picked here. */
  z.object({ kind: z.literal('picked') }),
  z.object({ kind: z.literal('none') }),
]);

export const LateStart = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('waits') }),
  /** The place throws the event away this long after its slot, if nothing has arrived. */
  z.object({ kind: z.literal('lapses'), afterMinutes: z.int() }),
]);

export const GoingPublic = z.enum(['on_arrival', 'from_slot', 'by_api', 'by_hand', 'unknown']);

export const Ingest = z.object({
  protocols: z.array(z.enum(['rtmp', 'rtmps', 'srt'])),
  key: z.enum(['persistent', 'per_event', 'either']),
  /** A key that was given out and not used dies after this long; null: never. */
  unusedKeyMinutes: z.nullable(z.int()),
  backupAddress: z.boolean(),
  regions: z.boolean(),
  secondSender: z.enum(['newer_wins', 'refused', 'unknown']),
});

/**
 * How a line can be tried before a show without anybody seeing it. `hidden_event`: by an event of its own, which is
 * taken away afterwards; only at these placements (null: all), with these settings, and with a slot so far ahead that
 * it is not public before. `unsafe`: whatever arrives is shown at once. `unknown`: nobody can say.
 */
export const LineTestWay = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('hidden_event'),
    placements: z.nullable(z.array(z.string())),
    settings: SettingValues,
    slotInMinutes: z.nullable(z.int()),
  }),
  z.object({ kind: z.literal('unsafe') }),
  z.object({ kind: z.literal('unknown') }),
]);
export type LineTestWay = z.infer<typeof LineTestWay>;

export const Encoder = z.object({
  shape: z._default(z.enum(PICTURE_SHAPES), 'landscape'),
  /** Lines; of an upright picture its width. */
  maxHeight: z.int(),
  maxFramesPerS: z.int(),
  maxKbps: z.int(),
  /** Null: the place does not say. */
  keyframeS: z.nullable(z.number()),
  takesFormatChange: z.boolean(),
});

/** What one destination takes at most, as a person knows it. */
export const EncoderLimit = z.object({
  shape: z._default(z.enum(PICTURE_SHAPES), 'landscape'),
  maxHeight: z.int().check(z.minimum(240), z.maximum(2160)),
  maxFramesPerS: z.int().check(z.minimum(10), z.maximum(120)),
  /** Video and audio together. */
  maxKbps: z.int().check(z.minimum(500), z.maximum(50_000)),
});
export type EncoderLimit = z.infer<typeof EncoderLimit>;

export const FeedLoss = z.object({
  patienceS: z.int(),
  then: z.enum(['gap', 'event_ends', 'unknown']),
  /** Whether an orderly end of the feed ends the event; `option`: as set for the event. */
  cleanEndEnds: z.enum(['yes', 'no', 'option', 'unknown']),
});

export const CHAT_ABILITIES = [
  'read',
  'reply',
  'hide',
  'ban',
  'slow',
  'followers_only',
  'private_messages',
  'questions',
  'sale_events',
] as const;

export const Chat = z.object({
  delivery: z.enum(['none', 'poll', 'server_sent_events', 'websocket', 'page']),
  abilities: z.array(z.enum(CHAT_ABILITIES)),
  reply: z.nullable(TextRule),
});

export const Capabilities = z.object({
  connect: z.array(z.enum(['authorise', 'api_key', 'address_and_key'])),
  placements: z.array(z.string()),
  settings: z.array(PlaceSetting),
  /** While it is authorised, it forbids sending elsewhere in public at the same time. */
  exclusive: z.boolean(),
  title: z.nullable(TextRule),
  description: z.nullable(TextRule),
  /** The most hashtags in a description; null: no rule. */
  hashtags: z.nullable(z.int()),
  picture: z.nullable(
    z.object({
      /** Without one a show cannot be announced there. */
      needed: z.boolean(),
      aspect: z.nullable(z.string()),
      minWidth: z.nullable(z.int()),
      minHeight: z.nullable(z.int()),
      maxBytes: z.nullable(z.int()),
    }),
  ),
  booking: Booking,
  lateStart: LateStart,
  goingPublic: GoingPublic,
  ingest: Ingest,
  lineTest: LineTestWay,
  encoder: Encoder,
  feedLoss: FeedLoss,
  longestMinutes: z.nullable(z.int()),
  /** How far behind the programme its viewers are, in s, for each latency that can be chosen there. */
  viewerDelayS: z.record(z.string(), z.number()),
  chat: Chat,
});
export type Capabilities = z.infer<typeof Capabilities>;

/** Capabilities as they stand at one place since a day, and how we know. */
export const HouseRules = z.object({
  place: z.string(),
  /** `YYYY-MM-DD`. */
  since: z.iso.date(),
  source: z.string(),
  capabilities: Capabilities,
});
export type HouseRules = z.infer<typeof HouseRules>;
