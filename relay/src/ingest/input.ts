import type { InputReport, InputsRequest } from '@juncta/contract/relay';
import {
  Arrival,
  IngestClock,
  judgeArrival,
  KNOCK_MS,
  type CallProblem,
  type IngestVerdict,
  type IngestWants,
  type VideoFigures,
} from '@juncta/core/ingest';
import { readAacConfig } from '@juncta/core/media/audio';
import {
  readBody,
  type AudioBody,
  type FlvTag,
  type VideoBody,
  type VideoCodec,
} from '@juncta/core/media/flv';
import {
  findParameterSets,
  readConfigurationRecord,
  readSequence,
  splitLengths,
  type SequenceFigures,
} from '@juncta/core/media/h264';
import { createHash, timingSafeEqual } from 'node:crypto';
import type { Logger } from 'pino';
import { InputReceivers } from './receivers';
import type { Keyframe } from '../media/still';

export type Booking = InputsRequest['inputs'][number];

/** An encoder's line that was let in. */
export interface EncoderLine {
  readonly isSecure: boolean;
  /** Its video was this, and was made H.264 at the door; null: it is as it came. */
  readonly madeFrom: VideoCodec | null;
  /** Ends it with a word. */
  end(says: string): void;
}

/** Who hears what comes in. */
export interface InputListener {
  /** A line begins: times count from anew. */
  begins(): void;
  /** @param atMs on a clock that only goes forward, from 0 with each line */
  tag(tag: FlvTag, body: VideoBody | AudioBody, atMs: number): void;
  /** The encoder is gone. */
  ends(): void;
}

export type Judgement =
  { readonly ok: true } | { readonly ok: false; readonly code: 'key' | 'busy'; readonly says: string };

/** Judged anew this often. */
const JUDGE_EVERY_MS = 500;
/** An encoder may take its time until its first frame. */
const BEGINNING_MS = 3000;
/** Far more than any show wants; somebody who sends more wants to exhaust us. */
const MOST_KBPS = 60_000;

/** One outside picture: who may bring it, what comes, and what is to be said of it. */
export class Input {
  private line: EncoderLine | null = null;
  private sinceMs = Date.now();
  private knockedAtMs: number | null = null;
  private callProblem: CallProblem | null = null;
  private arrival = new Arrival();
  private clock = new IngestClock();
  private verdict: IngestVerdict = NOTHING;
  private judgedAtMs = -Infinity;
  private heads: { video: FlvTag | null; audio: FlvTag | null } = { video: null, audio: null };
  private keyframe: Keyframe | null = null;
  private stills = 0;
  private atMs = 0;
  private beganAtMs = 0;
  /** Desks that have it on their stage. */
  readonly receivers = new InputReceivers(this, () => this.changed());
  /** People who look at it. */
  readonly watchers = new InputReceivers(this, () => undefined);

  constructor(
    private booking: Booking,
    private wants: IngestWants,
    private readonly listener: InputListener,
    private readonly log: Logger,
    private readonly changed: () => void,
  ) {}

  get inputId(): string {
    return this.booking.inputId;
  }
  get isHere(): boolean {
    return this.line !== null;
  }
  get isTakenOnArrival(): boolean {
    return this.booking.onArrival === 'is_taken';
  }
  /** It is looked at, and reaches no viewer. */
  get isTestOnly(): boolean {
    return this.booking.onArrival === 'test_only';
  }
  get carriage(): IngestVerdict['carriage'] {
    return this.verdict.carriage;
  }
  get wanted(): IngestWants {
    return this.wants;
  }
  /** As it comes, nothing of it can be shown. */
  get isBlocked(): boolean {
    return this.verdict.findings.some(({ level }) => level === 'block');
  }
  /** The configuration of its video; null: it has not come. */
  get parameters(): Uint8Array | null {
    return this.heads.video?.body ?? null;
  }
  /** What a decoder has to know before the first frame. */
  get configurations(): FlvTag[] {
    return [this.heads.video, this.heads.audio].filter((tag) => tag !== null);
  }
  /** Of its video; null: nothing comes. */
  get video(): VideoFigures | null {
    return this.isHere ? this.arrival.figures(performance.now()).video : null;
  }
  get kbps(): number {
    const { video, audio } = this.arrival.figures(performance.now());
    return (video?.kbps ?? 0) + (audio?.kbps ?? 0);
  }
  /** The last keyframe, to be looked at. */
  get lastKeyframe(): Keyframe | null {
    return this.keyframe;
  }

  /** Its key was renewed, or the show wants something else. Whoever came with the old key is sent away. */
  book(booking: Booking, wants: IngestWants): void {
    const isRenewed = booking.keyHash !== this.booking.keyHash;
    this.booking = booking;
    this.wants = wants;
    this.judgedAtMs = -Infinity;
    if (this.isTestOnly) this.receivers.close();
    if (isRenewed) this.line?.end('The key of this input was renewed.');
  }

  /** Somebody has come with a wrong key. */
  knock(nowMs: number): void {
    this.knockedAtMs = nowMs;
    this.changed();
  }

  /** An encoder that was called does not come. Null: it is not called, or not yet. */
  callFailed(problem: CallProblem | null): void {
    if (this.callProblem === problem) return;
    this.callProblem = problem;
    this.changed();
  }

  /** Somebody has come with a key. */
  judge(key: string, nowMs: number): Judgement {
    const given = createHash('sha256').update(key).digest();
    if (!timingSafeEqual(given, Buffer.from(this.booking.keyHash, 'hex'))) {
      this.knock(nowMs);
      return { ok: false, code: 'key', says: 'This is not the key of this input.' };
    }
    if (this.booking.srt) return { ok: false, code: 'busy', says: 'This input comes by SRT.' };
    if (this.line && this.booking.second === 'refused') {
      return { ok: false, code: 'busy', says: 'Another encoder is sending to this input already.' };
    }
    return { ok: true };
  }

  /** A line that was judged well. One that was there goes. */
  begin(line: EncoderLine): void {
    const before = this.line;
    this.line = line;
    before?.end('Another encoder has taken over this input.');
    this.sinceMs = Date.now();
    this.knockedAtMs = null;
    this.callProblem = null;
    this.arrival = new Arrival();
    this.clock = new IngestClock();
    this.verdict = NOTHING;
    this.heads = { video: null, audio: null };
    this.atMs = 0;
    this.beganAtMs = performance.now();
    this.log.info({ input: this.inputId }, 'an encoder has come');
    this.listener.begins();
    for (const all of [this.receivers, this.watchers]) all.changed();
    this.changed();
  }

  leave(line: EncoderLine): void {
    if (this.line !== line) return;
    this.line = null;
    this.sinceMs = Date.now();
    this.verdict = NOTHING;
    this.keyframe = null;
    this.heads = { video: null, audio: null };
    this.log.info({ input: this.inputId }, 'an encoder has gone');
    this.listener.ends();
    for (const all of [this.receivers, this.watchers]) all.changed();
    this.changed();
  }

  take(tag: FlvTag, line: EncoderLine): void {
    if (line !== this.line) return;
    const body = readBody(tag);
    if (!body) return;
    const nowMs = performance.now();
    if (body.part === 'configuration') this.takeConfiguration(tag, body);
    // What is no frame has a time of its own with some encoders.
    if (body.part !== 'frame') {
      this.pass(tag, body, this.atMs);
      return;
    }
    const { atMs, hasJumped } = this.clock.place(body.track, tag.timeMs, nowMs);
    this.atMs = atMs;
    if (hasJumped) this.arrival.jumps += 1;
    this.measure(body, atMs, nowMs);
    this.pass(tag, body, atMs);
  }

  private pass(tag: FlvTag, body: VideoBody | AudioBody, atMs: number): void {
    const placed = { ...tag, timeMs: Math.round(atMs) };
    this.listener.tag(placed, body, atMs);
    for (const all of [this.receivers, this.watchers]) all.tag(placed, body);
  }

  tick(nowMs: number): void {
    if (this.line === null) {
      if (this.knockedAtMs !== null && Date.now() - this.knockedAtMs > KNOCK_MS) {
        this.knockedAtMs = null;
        this.changed();
      }
      return;
    }
    if (nowMs - this.judgedAtMs < JUDGE_EVERY_MS) return;
    this.rejudge(nowMs);
    if (this.kbps > MOST_KBPS) this.line.end(`This input takes at most ${MOST_KBPS / 1000} Mbit/s.`);
  }

  private rejudge(nowMs: number): void {
    this.judgedAtMs = nowMs;
    const before = this.verdict;
    const figures = this.arrival.figures(nowMs);
    // Whoever has only just come is not told that nothing comes.
    if (!figures.video && nowMs - this.beganAtMs < BEGINNING_MS) return;
    this.verdict = judgeArrival(figures, this.wants);
    if (JSON.stringify(codesOf(before)) !== JSON.stringify(codesOf(this.verdict))) this.changed();
  }

  /** @param isProgramme it is what viewers get */
  report(isProgramme: boolean): Omit<InputReport, 'cores'> {
    const here = this.line !== null;
    return {
      inputId: this.inputId,
      state: here
        ? isProgramme
          ? 'as_programme'
          : 'in_preview'
        : this.knockedAtMs === null
          ? 'nothing'
          : 'knocking',
      sinceMs: this.sinceMs,
      isSecure: this.line?.isSecure ?? null,
      knockedAtMs: this.knockedAtMs,
      callProblem: here ? null : this.callProblem,
      figures: here ? this.arrival.figures(performance.now()) : null,
      findings: [...this.verdict.findings],
      carriage: this.verdict.carriage,
      isOnStage: !this.receivers.isEmpty,
      still: this.keyframe?.number ?? null,
    };
  }

  close(): void {
    this.line?.end('This input is closed.');
    this.receivers.close();
    this.watchers.close();
  }

  private takeConfiguration(tag: FlvTag, body: VideoBody | AudioBody): void {
    const kept = { ...tag, body: tag.body.slice() };
    if (body.track === 'audio') {
      this.heads = { ...this.heads, audio: kept };
      this.arrival.audioIs(body.codec, body.codec === 'aac' ? readAacConfig(body.data) : null);
      return;
    }
    this.heads = { ...this.heads, video: kept };
    let sequence: SequenceFigures | 'unreadable' | null = null;
    try {
      if (body.codec === 'h264') sequence = readSequence(readConfigurationRecord(body.data).sps);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      sequence = 'unreadable';
      this.log.warn({ input: this.inputId, says: error.message }, 'parameters that cannot be read');
    }
    this.arrival.videoIs(body.codec, sequence, this.line?.madeFrom ?? null);
    this.rejudge(performance.now());
  }

  private measure(body: VideoBody | AudioBody, atMs: number, nowMs: number): void {
    const bytes = body.data.length;
    if (body.track === 'audio') {
      // Codecs without a configuration are known by their frames.
      if (!this.heads.audio) this.arrival.audioIs(body.codec, null);
      this.arrival.takeAudio({ atMs, nowMs, bytes });
      return;
    }
    if (!this.heads.video) this.arrival.videoIs(body.codec, null);
    this.arrival.takeVideo({ atMs, nowMs, bytes, key: body.key, laterMs: body.laterMs });
    if (body.key && body.codec === 'h264' && this.heads.video) this.keepKeyframe(body);
  }

  private keepKeyframe(body: VideoBody): void {
    try {
      const units = splitLengths(body.data);
      const sets = findParameterSets(units) ?? readConfigurationRecord(readBody(this.heads.video!)!.data);
      this.stills += 1;
      this.keyframe = {
        number: this.stills,
        units: [sets.sps, sets.pps, ...units].map((unit) => unit.slice()),
      };
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
  }
}

const NOTHING: IngestVerdict = { findings: [], carriage: null };
const codesOf = ({ findings, carriage }: IngestVerdict) => [
  findings.map(({ code, level }) => [code, level]),
  carriage,
];
