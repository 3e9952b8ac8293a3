import {
  figuresOf,
  frameToUs,
  KEYFRAME_INTERVAL_S,
  SAMPLE_RATE_HZ,
  samplesToUs,
  type PictureFigures,
} from '@juncta/core/programme';
import {
  drawnShare,
  even,
  FramePace,
  FULL_PACE,
  judgeWindow,
  limit,
  type Size,
  type SourceId,
} from '@juncta/core/stage';
import type {
  ComposerMessage,
  ComposerReport,
  DrawnBackdrop,
  DrawnGraphics,
  EncoderRequest,
  PacketMessage,
  Setting,
  VideoEncoding,
} from '../messages';
import { imagesOf, NONE_DRAWN } from '../messages';
import { makeVideoEncoder, makeAudioEncoder, PACKET_SAMPLES, videoConfig } from './encoders';
import { ArmedPreview } from './armed-preview';
import { ChatColumn } from './chat-column';
import { Mix } from './mix';
import { MovingImages } from './moving-images';
import { ReturnFeed } from './return-feed';
import { ScenePicture } from './scene-picture';
import { SmallFrame } from './small-frame';
import { SlateEncoder } from './slate-encoder';
import { Source } from './source';

type Start = Extract<ComposerMessage, { type: 'start' }>;

const REPORT_EVERY_MS = 500;
/** So often the page and the guests look at it. */
const SMALL_RATE_HZ = 15;
/** More frames than this in the encoder, and the next one is left out: waiting would only grow. */
const MOST_QUEUED = 4;
/**
 * So many missed frames are bridged; after a longer stop it goes on where the time is. No more: encoding them takes
 * time too, and with fifteen a computer that was late once stayed late for ever.
 */
const MOST_REPEATED = 4;
/** Later than this, and audio has piled up at the door. */
const LATE_MS = 50;
/**
 * Audio is taken so much later than the frame that it is heard with, because it waits in its queue and frames do not.
 * Reckoned from the wait and from how packets fall on frames: a test pattern's beep is then 3 ms after its flash, a guest's
 * about 15. `npm run bench -- latency` measures it; on a machine that makes every second frame, flashes are later.
 */
const AUDIO_AFTER_SAMPLES = PACKET_SAMPLES;
/** Cameras take two frames or so to hand one on, microphones less than one: without this, lips would be late. */
const CAMERA_LATE_MS = 20;
/** A new slate is made beside the programme, a frame of it for each of the programme's. */
const SLATE_PAUSE_MS = 33;
/** So often it is judged whether this computer keeps up. */
const JUDGED_EVERY_S = 5;

/** Makes the programme: draws, mixes, encodes. All times are the programme's own, from 0. */
export class Composer {
  private readonly sources = new Map<SourceId, Source>();
  private preview: { canvas: OffscreenCanvas; context: OffscreenCanvasRenderingContext2D } | null = null;
  private previewShown = true;
  private returnFeed: ReturnFeed | null = null;
  private readonly programme: ScenePicture;
  private backdrop: DrawnBackdrop;
  private graphics: DrawnGraphics = NONE_DRAWN;
  private readonly moving = new MovingImages();
  private readonly chat = new ChatColumn();
  private readonly figures: PictureFigures;
  private mix: Mix;
  private readonly armed: ArmedPreview;
  private takes: number;
  /** What was drawn last: the programme, or it on its way in. */
  private drawn: OffscreenCanvas;
  private readonly small = new SmallFrame();
  private readonly videoFrames: VideoEncoder;
  private readonly audioFrames: AudioEncoder;
  private pace: FramePace;
  private samplesMade = 0;
  private keyWanted = true;
  private lastKeyFrame = 0;
  private peak = 0;
  private step = FULL_PACE;
  private judged = { frame: 0, dropped: 0 };
  private readonly encoding: VideoEncoding;
  private readonly slates: SlateEncoder;
  private readonly slateKbps: number;
  private readonly smallEvery: number;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly reporting: ReturnType<typeof setInterval>;
  private readonly uplink: MessagePort;

  constructor(
    start: Start,
    private readonly report: (report: ComposerReport) => void,
  ) {
    const { programme, armed, takes } = start.setting;
    this.figures = figuresOf(start.encoding.format);
    this.encoding = start.encoding;
    this.slateKbps = start.videoKbps;
    const { rateHz } = this.figures;
    this.smallEvery = rateHz / SMALL_RATE_HZ;
    this.backdrop = start.backdrop;
    const live = {
      get: (id: SourceId) => this.sources.get(id),
      moving: (id: SourceId) => this.moving.get(id),
      chat: this.chat,
    };
    this.programme = new ScenePicture(start.backdrop, programme, live, this.figures);
    this.mix = new Mix(this.figures);
    this.armed = new ArmedPreview(start.backdrop, armed, live);
    this.takes = takes;
    this.drawn = this.programme.canvas;
    this.uplink = start.uplink;
    this.uplink.onmessage = ({ data }: MessageEvent<EncoderRequest>) => {
      if (data.type === 'keyframe_wanted') this.keyWanted = true;
      // The size, the profile and the level stay: only how much of it is kept is another.
      else if (this.videoFrames.state === 'configured')
        this.videoFrames.configure(videoConfig(this.encoding, data.videoKbps));
    };
    const emit = (packet: PacketMessage) => this.uplink.postMessage(packet, [packet.payload.buffer]);
    this.videoFrames = makeVideoEncoder(start.encoding, start.videoKbps, false, emit, (why) =>
      report({ type: 'failed', what: 'encoder', why }),
    );
    this.audioFrames = makeAudioEncoder(emit, (why) =>
      report({ type: 'failed', what: 'audio_encoder', why }),
    );
    this.pace = new FramePace(performance.now(), rateHz);
    this.reporting = setInterval(() => this.tellFigures(), REPORT_EVERY_MS);
    this.slates = new SlateEncoder(start.encoding, emit, (why) =>
      report({ type: 'failed', what: 'encoder', why }),
    );
    void this.begin(start);
  }

  take(message: Exclude<ComposerMessage, { type: 'start' | 'stop' }>): void {
    switch (message.type) {
      case 'setting':
        this.set(message.setting);
        break;
      case 'backdrop':
        this.programme.setBackdrop(message.backdrop);
        this.armed.setBackdrop(message.backdrop);
        this.backdrop.image.close();
        this.backdrop = message.backdrop;
        break;
      case 'graphics':
        this.programme.setGraphics(message.graphics);
        this.armed.setGraphics(message.graphics);
        imagesOf(this.graphics).forEach((image) => image.close());
        this.graphics = message.graphics;
        this.moving.follow(message.graphics.overlays);
        break;
      case 'chat_entries':
        this.chat.set(message.entries, message.isCut, performance.now());
        break;
      case 'slate':
        void this.slates.encode(message.slate, this.slateKbps, SLATE_PAUSE_MS);
        break;
      case 'preview':
        this.showOn(message.of, message.canvas);
        break;
      case 'preview_shown':
        this.previewShown = message.shown;
        break;
      case 'made_source':
        this.addSource(message.id, false).takeFrom(message.port);
        break;
      case 'device_source': {
        const source = this.addSource(message.id, message.fromRoom, message.fromRoom ? 0 : CAMERA_LATE_MS);
        if (message.video) source.readVideo(message.video);
        if (message.audio) source.readAudio(message.audio);
        break;
      }
      case 'source_off':
        this.sources.get(message.id)?.turnOff(message.isOff);
        break;
      case 'drop_source':
        this.sources.get(message.id)?.close();
        this.sources.delete(message.id);
        break;
      case 'card':
        this.programme.showCard(
          message.of,
          message.card && {
            image: message.card.image,
            untilMs: performance.now() + message.card.forMs,
          },
        );
        break;
      case 'return_feed':
        this.returnFeed?.close();
        this.returnFeed = message.feed && new ReturnFeed(message.feed.video, message.feed.audio);
        break;
    }
  }

  stop(): void {
    clearTimeout(this.timer);
    clearInterval(this.reporting);
    for (const source of this.sources.values()) source.close();
    this.moving.close();
    this.chat.close();
    this.returnFeed?.close();
    this.slates.stop();
    for (const encoder of [this.videoFrames, this.audioFrames])
      if (encoder.state !== 'closed') encoder.close();
    this.uplink.close();
  }

  private set({ programme, armed, takes, mixMs }: Setting): void {
    // What another desk took counts too, and what was taken twice while this one was busy comes on once.
    if (takes !== this.takes && mixMs > 0) this.mix.begin(this.drawn, mixMs, performance.now());
    this.takes = takes;
    this.programme.set(programme);
    this.armed.set(armed);
  }

  private showOn(of: 'programme' | 'armed', canvas: OffscreenCanvas): void {
    const context = canvas.getContext('2d', { alpha: false })!;
    if (of === 'armed') this.armed.showOn(context);
    else this.preview = { canvas, context };
  }

  private addSource(id: SourceId, fromRoom: boolean, videoLateMs = 0): Source {
    this.sources.get(id)?.close();
    const source = new Source(fromRoom, videoLateMs, (track) =>
      this.report({ type: 'source_ended', id, track }),
    );
    this.sources.set(id, source);
    return source;
  }

  /** The slate goes first, so that the relay has it before it can need it. */
  private async begin({ slate, videoKbps }: Start): Promise<void> {
    await this.slates.encode(slate, videoKbps, 0);
    this.pace = new FramePace(performance.now(), this.figures.rateHz);
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
      this.makeAudio(due.frame);
      // A short hiccup is bridged by the frame before: places and players like even steps.
      if (due.missed.length <= MOST_REPEATED) due.missed.forEach((frame) => this.encode(frame));
      this.makeVideoFrame(due.frame);
    }
    this.timer = setTimeout(() => this.tick(), Math.max(0, this.pace.dueMs - performance.now()));
  }

  private makeVideoFrame(frame: number): void {
    const isHalved = this.step.drawn === 'smaller_halved';
    if (isHalved && frame % 2 === 1) return;
    if (this.videoFrames.encodeQueueSize > MOST_QUEUED) {
      this.pace.leaveOut();
      return;
    }
    // By when it is due and not by when it is made: what runs through the picture takes even steps.
    const nowMs = this.pace.timeOf(frame);
    this.moving.advance(nowMs);
    this.chat.tidy(nowMs);
    this.programme.draw(nowMs);
    this.drawn = this.mix.over(this.programme.canvas, nowMs);
    this.encode(frame);
    this.pace.count(performance.now());
    if (frame % this.smallEvery === 0) this.showSmall(frame);
    // In the other frames, if they are made: each has its share of the time.
    if (this.previewShown && frame % this.smallEvery === (isHalved ? 0 : 1)) this.armed.draw(nowMs);
    this.judge(frame);
  }

  private showSmall(frame: number): void {
    const preview = this.previewShown ? this.preview : null;
    if (!preview && !this.returnFeed) return;
    this.small.take(this.drawn);
    preview?.context.drawImage(this.small.canvas, 0, 0, preview.canvas.width, preview.canvas.height);
    this.returnFeed?.show(this.small.canvas, frameToUs(frame, this.figures.rateHz));
  }

  /** Encodes what was drawn last as this frame. */
  private encode(frame: number): void {
    if (this.videoFrames.state !== 'configured' || this.videoFrames.encodeQueueSize > MOST_QUEUED) return;
    const videoFrame = new VideoFrame(this.drawn, {
      timestamp: frameToUs(frame, this.figures.rateHz),
      duration: Math.round(1_000_000 / this.figures.rateHz),
    });
    const keyFrame = this.keyWanted || frame - this.lastKeyFrame >= KEYFRAME_INTERVAL_S * this.figures.rateHz;
    if (keyFrame) {
      this.lastKeyFrame = frame;
      this.keyWanted = false;
    }
    this.videoFrames.encode(videoFrame, { keyFrame });
    videoFrame.close();
  }

  /**
   * Audio up to a packet before the end of this frame, in whole packets. There is always some: silence, when nobody
   * speaks.
   */
  private makeAudio(frame: number): void {
    const until = (frame + 1) * (SAMPLE_RATE_HZ / this.figures.rateHz) - AUDIO_AFTER_SAMPLES;
    while (this.samplesMade + PACKET_SAMPLES <= until) {
      const planes = new Float32Array(2 * PACKET_SAMPLES);
      const left = planes.subarray(0, PACKET_SAMPLES);
      const right = planes.subarray(PACKET_SAMPLES);
      const guests = new Float32Array(2 * PACKET_SAMPLES);
      const { placed } = this.programme;
      for (const [id, source] of this.sources) {
        const [toLeft, toRight] = source.fromRoom
          ? [guests.subarray(0, PACKET_SAMPLES), guests.subarray(PACKET_SAMPLES)]
          : [left, right];
        // Those in the wings are kept running, unheard, so that they come on without delay.
        source.audio.mixInto(toLeft, toRight, placed.includes(id) ? this.programme.gainOf(id) : 0);
      }
      // Guests hear one another straight from the room; what is sent back must not hold them, or they hear themselves.
      this.returnFeed?.audio(planes, samplesToUs(this.samplesMade));
      guests.forEach((sample, i) => (planes[i]! += sample));
      limit(planes);
      for (const sample of planes) this.peak = Math.max(this.peak, Math.abs(sample));
      this.encodeAudio(planes);
      this.samplesMade += PACKET_SAMPLES;
    }
  }

  private encodeAudio(data: Float32Array<ArrayBuffer>): void {
    if (this.audioFrames.state !== 'configured') return;
    const audioFrame = new AudioData({
      format: 'f32-planar',
      sampleRate: SAMPLE_RATE_HZ,
      numberOfFrames: PACKET_SAMPLES,
      numberOfChannels: 2,
      timestamp: samplesToUs(this.samplesMade),
      data,
    });
    this.audioFrames.encode(audioFrame);
    audioFrame.close();
  }

  private judge(frame: number): void {
    const due = frame - this.judged.frame;
    if (due < JUDGED_EVERY_S * this.figures.rateHz) return;
    const { dropped } = this.pace.figures();
    // The first stretch has the start in it, which is never smooth.
    if (this.judged.frame > 0) {
      const before = drawnShare(this.step.drawn);
      this.step = judgeWindow(this.step, due, Math.min(due, dropped - this.judged.dropped));
      if (drawnShare(this.step.drawn) !== before) this.drawIn(drawnShare(this.step.drawn));
    }
    this.judged = { frame, dropped };
  }

  /** From the next frame on in this share of the size; the encoder brings it back to the programme's, which stays. */
  private drawIn(share: number): void {
    const { width, height } = this.figures;
    const size: Size = { width: even(width * share), height: even(height * share) };
    this.programme.resize(size);
    this.mix = new Mix(size);
  }

  private tellFigures(): void {
    this.report({
      type: 'figures',
      pace: this.pace.figures(),
      queued: this.videoFrames.encodeQueueSize,
      peak: this.peak,
      drawn: this.step.drawn,
    });
    this.peak = 0;
  }
}
