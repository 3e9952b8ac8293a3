import {
  cropToFill,
  FramePace,
  FRAME_RATE_HZ,
  frameToUs,
  FULL_PACE,
  judgeWindow,
  KEYFRAME_INTERVAL_S,
  limit,
  lowerThirdOf,
  messageCardOf,
  PROGRAMME,
  SAMPLE_RATE_HZ,
  SAMPLES_PER_FRAME,
  samplesToUs,
  tilesOf,
  type Rect,
} from '@juncta/core/stage';
import type { ComposerMessage, ComposerReport, PacketMessage, Setting, UplinkWish } from '../messages';
import { makePictureEncoder, makeSoundEncoder, PACKET_SAMPLES, pictureConfig } from './encoders';
import { ReturnFeed } from './return-feed';
import { Source } from './source';

type Start = Extract<ComposerMessage, { type: 'start' }>;

const REPORT_EVERY_MS = 500;
/** The page's own picture of the programme is smaller and half as often: it is looked at, not sent. */
const PREVIEW_EVERY_FRAMES = 2;
/** More pictures than this in the encoder, and the next one is left out: waiting would only grow. */
const MOST_QUEUED = 4;
/**
 * So many missed pictures are bridged; after a longer stop it goes on where the time is. No more: encoding them takes
 * time too, and with fifteen a computer that was late once stayed late for ever.
 */
const MOST_REPEATED = 4;
/** Later than this, and sound has piled up at the door. */
const LATE_MS = 50;
const SLATE_FRAMES = KEYFRAME_INTERVAL_S * FRAME_RATE_HZ;
/** Five seconds: so often it is judged whether this computer keeps up. */
const JUDGED_FRAMES = 150;

/** Makes the programme: draws, mixes, encodes. All times are the programme's own, from 0. */
export class Composer {
  private readonly canvas = new OffscreenCanvas(PROGRAMME.width, PROGRAMME.height);
  private readonly context = this.canvas.getContext('2d', { alpha: false })!;
  private readonly sources = new Map<string, Source>();
  private preview: { canvas: OffscreenCanvas; context: OffscreenCanvasRenderingContext2D } | null = null;
  private previewShown = true;
  private returnFeed: ReturnFeed | null = null;
  private card: { image: ImageBitmap; untilMs: number } | null = null;
  private setting: Setting;
  private readonly backdrop: ImageBitmap;
  private readonly pictures: VideoEncoder;
  private readonly sounds: AudioEncoder;
  private pace: FramePace;
  private samplesMade = 0;
  private keyWanted = true;
  private lastKeyFrame = 0;
  private peak = 0;
  private step = FULL_PACE;
  private judged = { frame: 0, dropped: 0 };
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly reporting: ReturnType<typeof setInterval>;
  private readonly uplink: MessagePort;

  constructor(
    start: Start,
    private readonly report: (report: ComposerReport) => void,
  ) {
    this.setting = start.setting;
    this.backdrop = start.backdrop;
    this.uplink = start.uplink;
    this.uplink.onmessage = ({ data }: MessageEvent<UplinkWish>) => {
      if (data.type === 'keyframe_wanted') this.keyWanted = true;
      // The size, the profile and the level stay: only how much of it is kept is another.
      else if (this.pictures.state === 'configured') this.pictures.configure(pictureConfig(data.pictureKbps));
    };
    const emit = (packet: PacketMessage) => this.uplink.postMessage(packet, [packet.payload.buffer]);
    this.pictures = makePictureEncoder(start.pictureKbps, false, emit, (why) =>
      report({ type: 'failed', what: 'encoder', why }),
    );
    this.sounds = makeSoundEncoder(emit, (why) => report({ type: 'failed', what: 'sound_encoder', why }));
    this.pace = new FramePace(performance.now());
    this.reporting = setInterval(() => this.tellFigures(), REPORT_EVERY_MS);
    void this.begin(start, emit);
  }

  take(message: Exclude<ComposerMessage, { type: 'start' | 'stop' }>): void {
    switch (message.type) {
      case 'setting':
        for (const [id, plate] of Object.entries(this.setting.plates)) {
          if (message.setting.plates[id] !== plate) plate.close();
        }
        this.setting = message.setting;
        break;
      case 'preview':
        this.preview = {
          canvas: message.canvas,
          context: message.canvas.getContext('2d', { alpha: false })!,
        };
        break;
      case 'preview_shown':
        this.previewShown = message.shown;
        break;
      case 'made_source':
        this.addSource(message.id, false).takeFrom(message.port);
        break;
      case 'device_source': {
        const source = this.addSource(message.id, message.fromRoom);
        if (message.video) source.readVideo(message.video);
        if (message.audio) source.readAudio(message.audio);
        break;
      }
      case 'drop_source':
        this.sources.get(message.id)?.close();
        this.sources.delete(message.id);
        break;
      case 'message_card':
        this.card?.image.close();
        this.card = message.card && {
          image: message.card.image,
          untilMs: performance.now() + message.card.forMs,
        };
        break;
      case 'return_feed':
        this.returnFeed?.close();
        this.returnFeed = message.feed && new ReturnFeed(message.feed.picture, message.feed.sound);
        break;
    }
  }

  stop(): void {
    clearTimeout(this.timer);
    clearInterval(this.reporting);
    for (const source of this.sources.values()) source.close();
    this.returnFeed?.close();
    for (const encoder of [this.pictures, this.sounds]) if (encoder.state !== 'closed') encoder.close();
    this.uplink.close();
  }

  private addSource(id: string, fromRoom: boolean): Source {
    this.sources.get(id)?.close();
    const source = new Source(fromRoom, (track) => this.report({ type: 'source_ended', id, track }));
    this.sources.set(id, source);
    return source;
  }

  /** The slate goes first, so that the relay has it before it can need it. */
  private async begin(start: Start, emit: (packet: PacketMessage) => void): Promise<void> {
    const encoder = makePictureEncoder(start.pictureKbps, true, emit, (why) =>
      this.report({ type: 'failed', what: 'encoder', why }),
    );
    for (let frame = 0; frame < SLATE_FRAMES; frame++) {
      const picture = new VideoFrame(start.slate, { timestamp: frameToUs(frame) });
      encoder.encode(picture, { keyFrame: frame === 0 });
      picture.close();
    }
    await encoder.flush().catch(() => undefined);
    if (encoder.state !== 'closed') encoder.close();
    this.pace = new FramePace(performance.now());
    this.tick();
  }

  private tick(waited = false): void {
    const lateMs = performance.now() - this.pace.dueMs;
    if (lateMs > LATE_MS && !waited) {
      // While this worker was held up its sources went on: their messages wait, and come before this timer does.
      this.timer = setTimeout(() => this.tick(true));
      return;
    }
    const due = this.pace.take(performance.now());
    if (due !== null) {
      this.makeSound(due.frame);
      // A short hiccup is bridged by the picture before: places and players like even steps.
      if (due.missed.length <= MOST_REPEATED) due.missed.forEach((frame) => this.encode(frame));
      this.makePicture(due.frame);
    }
    this.timer = setTimeout(() => this.tick(), Math.max(0, this.pace.dueMs - performance.now()));
  }

  private makePicture(frame: number): void {
    if (this.step.halved && frame % 2 === 1) return;
    if (this.pictures.encodeQueueSize > MOST_QUEUED) {
      this.pace.leaveOut();
      return;
    }
    this.draw();
    this.encode(frame);
    this.pace.count(performance.now());
    if (this.preview && this.previewShown && frame % PREVIEW_EVERY_FRAMES === 0) {
      const { canvas, context } = this.preview;
      context.drawImage(this.canvas, 0, 0, canvas.width, canvas.height);
    }
    this.returnFeed?.show(this.canvas, frame);
    this.judge(frame);
  }

  /** Encodes what was drawn last as this picture. */
  private encode(frame: number): void {
    if (this.pictures.state !== 'configured' || this.pictures.encodeQueueSize > MOST_QUEUED) return;
    const picture = new VideoFrame(this.canvas, {
      timestamp: frameToUs(frame),
      duration: Math.round(1_000_000 / FRAME_RATE_HZ),
    });
    const keyFrame = this.keyWanted || frame - this.lastKeyFrame >= SLATE_FRAMES;
    if (keyFrame) {
      this.lastKeyFrame = frame;
      this.keyWanted = false;
    }
    this.pictures.encode(picture, { keyFrame });
    picture.close();
  }

  private draw(): void {
    const { context, setting } = this;
    context.drawImage(this.backdrop, 0, 0);
    const tiles = tilesOf(setting.layout, setting.stage.length);
    tiles.forEach((tile, i) => {
      const id = setting.stage[i]!;
      this.drawSource(this.sources.get(id)?.picture ?? null, tile);
      const plate = setting.plates[id];
      // A message stands where names would: both at once would be read as one.
      if (plate && !this.card) {
        const { x, y } = lowerThirdOf(tile);
        context.drawImage(plate, x, y);
      }
    });
    this.drawCard();
  }

  /** It leaves by itself, and by this worker's own time: the page may be hidden. */
  private drawCard(): void {
    if (!this.card) return;
    if (performance.now() >= this.card.untilMs) {
      this.card.image.close();
      this.card = null;
      return;
    }
    const { x, y } = messageCardOf();
    this.context.drawImage(this.card.image, x, y);
  }

  private drawSource(picture: VideoFrame | null, tile: Rect): void {
    const { context } = this;
    if (!picture) {
      // Somebody whose picture is missing keeps their place: a dark field, and their name.
      context.fillStyle = '#1b211d';
      context.fillRect(tile.x, tile.y, tile.width, tile.height);
      return;
    }
    const size = { width: picture.displayWidth, height: picture.displayHeight };
    const crop = cropToFill(size, tile);
    context.drawImage(
      picture,
      crop.x,
      crop.y,
      crop.width,
      crop.height,
      tile.x,
      tile.y,
      tile.width,
      tile.height,
    );
  }

  /** Sound up to the end of this picture, in whole packets. There is always some: silence, when nobody speaks. */
  private makeSound(frame: number): void {
    const until = (frame + 1) * SAMPLES_PER_FRAME;
    while (this.samplesMade + PACKET_SAMPLES <= until) {
      const planes = new Float32Array(2 * PACKET_SAMPLES);
      const left = planes.subarray(0, PACKET_SAMPLES);
      const right = planes.subarray(PACKET_SAMPLES);
      const guests = new Float32Array(2 * PACKET_SAMPLES);
      for (const [id, source] of this.sources) {
        const [toLeft, toRight] = source.fromRoom
          ? [guests.subarray(0, PACKET_SAMPLES), guests.subarray(PACKET_SAMPLES)]
          : [left, right];
        // Those in the wings are kept running, unheard, so that they come on without delay.
        source.sound.mixInto(toLeft, toRight, this.setting.stage.includes(id) ? 1 : 0);
      }
      // Guests hear one another straight from the room; what is sent back must not hold them, or they hear themselves.
      this.returnFeed?.sound(planes, samplesToUs(this.samplesMade));
      guests.forEach((sample, i) => (planes[i]! += sample));
      limit(planes);
      for (const sample of planes) this.peak = Math.max(this.peak, Math.abs(sample));
      this.encodeSound(planes);
      this.samplesMade += PACKET_SAMPLES;
    }
  }

  private encodeSound(data: Float32Array<ArrayBuffer>): void {
    if (this.sounds.state !== 'configured') return;
    const sound = new AudioData({
      format: 'f32-planar',
      sampleRate: SAMPLE_RATE_HZ,
      numberOfFrames: PACKET_SAMPLES,
      numberOfChannels: 2,
      timestamp: samplesToUs(this.samplesMade),
      data,
    });
    this.sounds.encode(sound);
    sound.close();
  }

  private judge(frame: number): void {
    const due = frame - this.judged.frame;
    if (due < JUDGED_FRAMES) return;
    const { dropped } = this.pace.figures();
    // The first stretch has the start in it, which is never smooth.
    if (this.judged.frame > 0)
      this.step = judgeWindow(this.step, due, Math.min(due, dropped - this.judged.dropped));
    this.judged = { frame, dropped };
  }

  private tellFigures(): void {
    this.report({
      type: 'figures',
      pace: this.pace.figures(),
      queued: this.pictures.encodeQueueSize,
      peak: this.peak,
      steppedDown: this.step.halved,
    });
    this.peak = 0;
  }
}
