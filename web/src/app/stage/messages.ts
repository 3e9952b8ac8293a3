import type { FrameMeasures } from '@juncta/core/dressing';
import type { PictureFormat } from '@juncta/core/programme';
import type { ClockSetting } from '@juncta/core/clock';
import type {
  Adjustment,
  Drawn,
  Graphics,
  OnScreenClock,
  PaceFigures,
  Rect,
  Scene,
  SourceId,
} from '@juncta/core/stage';

/** The workers tell their figures here too, for benchmarks. */
export const MEASURE_CHANNEL = 'juncta.measure';

/** How a browser encodes a picture. */
export interface VideoEncoding {
  readonly format: PictureFormat;
  /** `profile_idc` and the constraint flags, hexadecimal (ITU-T H.264, 7.4.2.1.1). */
  readonly profile: string;
  readonly hardwareAcceleration: HardwareAcceleration;
}

/** What passes between the page and its workers. Live objects travel by transfer. */

/** To the worker that makes test patterns. */
export type PatternMessage =
  | {
      readonly type: 'make';
      readonly id: string;
      readonly port: MessagePort;
      readonly index: number;
      readonly name: string;
      /** As hard to encode as a camera's picture. */
      readonly grain: boolean;
    }
  | { readonly type: 'end'; readonly id: string };

/** From a source that is made or decoded in a worker. */
export interface SourceMessage {
  /** Null: there is none any more. Absent: the one before stays. */
  readonly frame?: VideoFrame | null;
  /** One or two channels at 48 kHz. */
  readonly audio?: readonly Float32Array<ArrayBuffer>[];
}

/** A frame of a test pattern, with the sound that belongs to it. */
export interface PatternPicture extends SourceMessage {
  readonly frame: VideoFrame;
  readonly audio: readonly [Float32Array<ArrayBuffer>];
}

/** A scene, and what of it is text: drawn by the page, which has the fonts, as large as it stands in the programme. */
export interface DrawnScene {
  readonly scene: Scene;
  readonly overlays: Readonly<Record<SourceId, ImageBitmap>>;
  /** By somebody's camera: what stands for them while their picture is not there. */
  readonly portraits: Readonly<Record<SourceId, ImageBitmap>>;
  /** Of those that are not as they come. */
  readonly adjustments: Readonly<Record<SourceId, Adjustment>>;
  readonly frames: FrameMeasures;
}

/** All that was drawn for a scene. */
export const imagesOfScene = ({ overlays, portraits }: DrawnScene): ImageBitmap[] => [
  ...Object.values(overlays),
  ...Object.values(portraits),
];

/** What a clock's time is made of, in the order of the image that holds them. */
export const CLOCK_SIGNS = '0123456789:';

/** A clock without its time: the composer reads it, for a page that is hidden is slowed down. */
export interface DrawnClock {
  readonly ground: ImageBitmap;
  /** {@link CLOCK_SIGNS} side by side, each with the same room. */
  readonly signs: ImageBitmap;
  readonly clock: OnScreenClock;
  /** The house's clock. */
  readonly time: ClockSetting;
}

/** A ticker's lines, each with the room that follows it. Colours as `#rrggbb`. */
export interface DrawnTicker {
  readonly lines: readonly ImageBitmap[];
  readonly ground: string;
  readonly edge: string;
}

/** An overlay of the house's own that is on. */
export interface DrawnOverlay {
  readonly id: string;
  /** Where it stands, in shares of the picture's width and height. */
  readonly place: Rect;
  readonly opacity: number;
  /** Null: it moves, or is not there. */
  readonly still: ImageBitmap | null;
  /** The file of one that moves: decoded where it is drawn. */
  readonly moving: { readonly imageId: string; readonly file: Blob; readonly repeats: boolean } | null;
}

/** What the desk puts over whatever is on programme, as large as it stands there. */
export interface DrawnGraphics {
  /** By which they have their places; null: there are none. */
  readonly graphics: Graphics | null;
  readonly ticker: DrawnTicker | null;
  readonly clock: DrawnClock | null;
  readonly score: ImageBitmap | null;
  readonly link: ImageBitmap | null;
  readonly product: ImageBitmap | null;
  /** From the lowest to the highest. */
  readonly overlays: readonly DrawnOverlay[];
}

export const NONE_DRAWN: DrawnGraphics = {
  graphics: null,
  ticker: null,
  clock: null,
  score: null,
  link: null,
  product: null,
  overlays: [],
};

/** The images that go over with graphics. */
export const imagesOf = ({ ticker, clock, score, link, product, overlays }: DrawnGraphics): ImageBitmap[] =>
  [
    ...(ticker?.lines ?? []),
    clock?.ground,
    clock?.signs,
    score,
    link,
    product,
    ...overlays.map(({ still }) => still),
  ].filter((image) => image != null);

/** What stands behind everybody. */
export interface DrawnBackdrop {
  readonly image: ImageBitmap;
  /**
   * Of one that passes slowly from right to left: by this share of the picture's width in a second. Its image is wider than the
   * picture, and begins anew where it ends. 0: it stands.
   */
  readonly passes: number;
}

/** A viewer's message in the picture, drawn. */
export interface DrawnEntry {
  /** The same for the same message. */
  readonly key: string;
  readonly image: ImageBitmap;
}

/** What stands at the foot of the picture for a while. */
export const CARDS = ['message', 'notice'] as const;
export type CardOf = (typeof CARDS)[number];

/** How the programme is to look, and what is put together to come next. */
export interface Setting {
  readonly programme: DrawnScene;
  readonly armed: DrawnScene | null;
  /** Another number than before: something was taken, and comes on by a mix of this length, ms; 0: by a cut. */
  readonly takes: number;
  readonly mixMs: number;
}

export type ComposerMessage =
  | {
      readonly type: 'start';
      /** Encoded packets go here: to the uplink. */
      readonly uplink: MessagePort;
      readonly backdrop: DrawnBackdrop;
      readonly slate: ImageBitmap;
      readonly setting: Setting;
      readonly encoding: VideoEncoding;
      readonly videoKbps: number;
    }
  | { readonly type: 'setting'; readonly setting: Setting }
  /** All of them from now on. */
  | { readonly type: 'graphics'; readonly graphics: DrawnGraphics }
  /** What viewers see from now on while the programme is away. */
  | { readonly type: 'slate'; readonly slate: ImageBitmap }
  /** What stands behind everybody from now on. */
  | { readonly type: 'backdrop'; readonly backdrop: DrawnBackdrop }
  /** Where to show the programme on the page, or what is armed. */
  | { readonly type: 'preview'; readonly of: 'programme' | 'armed'; readonly canvas: OffscreenCanvas }
  | { readonly type: 'preview_shown'; readonly shown: boolean }
  | { readonly type: 'made_source'; readonly id: SourceId; readonly port: MessagePort }
  | {
      readonly type: 'device_source';
      readonly id: SourceId;
      /** A guest: heard in the room already, so not sent back into it. */
      readonly fromRoom: boolean;
      readonly video: ReadableStream<VideoFrame> | null;
      readonly audio: ReadableStream<AudioData> | null;
    }
  /**
   * Viewers' messages in the picture, each as wide as their column, the newest last. `isCut`: what is not among them may not be
   * seen any longer.
   */
  | { readonly type: 'chat_entries'; readonly entries: readonly DrawnEntry[]; readonly isCut: boolean }
  /** A viewer's message or a notice, drawn to its card's size, for this long; null takes it off. */
  | {
      readonly type: 'card';
      readonly of: CardOf;
      readonly card: { readonly image: ImageBitmap; readonly forMs: number } | null;
    }
  /** Whoever it belongs to has turned its picture off, or on again: whatever frames still come. */
  | { readonly type: 'source_off'; readonly id: SourceId; readonly isOff: boolean }
  | { readonly type: 'drop_source'; readonly id: SourceId }
  /** Where the programme goes back into the room, small, with the audio that is made at this desk; null: nowhere. */
  | {
      readonly type: 'return_feed';
      readonly feed: {
        readonly video: WritableStream<VideoFrame>;
        readonly audio: WritableStream<AudioData>;
      } | null;
    }
  | { readonly type: 'stop' };

export type ComposerFailure = 'encoder' | 'audio_encoder';

export type ComposerReport =
  | {
      readonly type: 'figures';
      readonly pace: PaceFigures;
      readonly queued: number;
      /** Peak of the mix since the last report, 0 to 1. */
      readonly peak: number;
      /** Less than `whole`: this computer cannot keep up. */
      readonly drawn: Drawn;
    }
  | { readonly type: 'source_ended'; readonly id: SourceId; readonly track: 'video' | 'audio' }
  | { readonly type: 'failed'; readonly what: ComposerFailure; readonly why: string };

/** From the composer to the uplink: one encoded packet. */
export interface PacketMessage {
  readonly track: 'video' | 'audio';
  readonly key: boolean;
  readonly slate: boolean;
  readonly timeUs: number;
  readonly durationUs: number;
  readonly payload: Uint8Array<ArrayBuffer>;
}
/** From the uplink to the composer. */
export type EncoderRequest =
  | { readonly type: 'keyframe_wanted' }
  /** What the line carries: the video is to be encoded at this from now on. */
  | { readonly type: 'rate'; readonly videoKbps: number };
