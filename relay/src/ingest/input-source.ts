import type { InputReport } from '@juncta/contract/relay';
import { SourceFrames, type Carriage, type IngestWants } from '@juncta/core/ingest';
import { readBody, type AudioBody, type FlvTag, type VideoBody } from '@juncta/core/media/flv';
import type { Slate } from '@juncta/core/programme';
import { coresBetween, type EncodeCost } from '@juncta/core/renditions';
import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { ProgrammeInput, ProgrammeSource } from '../programme/source';
import { FlvConverter } from '../media/flv-converter';
import { fittingArguments } from './fitting';
import { Input, type Booking, type InputListener } from './input';

/** A converter that died is begun again after this long. */
const AGAIN_MS = 1000;

interface InputSourceHouse {
  readonly cost: EncodeCost;
  readonly log: Logger;
  changed(): void;
  /** Something comes, and is to be the programme at once. */
  arrived(inputId: string): void;
  slate(wants: IngestWants): Promise<Slate | null>;
}

/**
 * An outside picture as the source of a programme: copied where it fits, through a converter where not. Before it is wanted
 * nothing is converted, and nobody gets anything of it.
 */
export class InputSource implements ProgrammeSource, InputListener {
  readonly input: Input;
  private isWanted = false;
  private carried: Carriage | null = null;
  /** How what had these parameters was carried last: the same that comes again is so at once, and not looked at first. */
  private last: { readonly carriage: Carriage; readonly parameters: Uint8Array } | null = null;
  private frames: SourceFrames | null = null;
  private fitting: FlvConverter | null = null;
  private notBeforeMs = -Infinity;
  private hasAsked = false;

  constructor(
    booking: Booking,
    wants: IngestWants,
    private readonly programme: ProgrammeInput,
    private readonly house: InputSourceHouse,
  ) {
    this.input = new Input(booking, wants, this, house.log, () => house.changed());
  }

  get id(): string | null {
    return this.input.isHere ? this.input.inputId : null;
  }

  get incomingKbps(): number {
    return this.input.kbps;
  }

  /** It is to be the programme, or is so no longer. */
  want(isWanted: boolean): void {
    if (this.isWanted === isWanted) return;
    this.isWanted = isWanted;
    if (!isWanted) this.stop();
  }

  report(isProgramme: boolean): InputReport {
    return { ...this.input.report(isProgramme), cores: this.cores() };
  }

  /** What it takes to make its video fit, at the door and after it; null: nothing. */
  private cores(): number | null {
    const { video } = this.input;
    const { cost } = this.house;
    if (!video?.sequence || video.rateHz === null) return null;
    const { width, height } = video.sequence;
    const picture = { width, height, rateHz: video.rateHz };
    const isMade = (this.carried ?? this.input.carriage)?.video ?? false;
    const made = isMade ? coresBetween(picture, this.input.wanted, cost) : 0;
    const atDoor = video.madeFrom ? coresBetween(picture, picture, cost) : 0;
    return made + atDoor === 0 ? null : made + atDoor;
  }

  // --- What comes in

  begins(): void {
    this.stop();
    this.hasAsked = false;
  }

  ends(): void {
    this.stop();
  }

  tag(tag: FlvTag, body: VideoBody | AudioBody, atMs: number): void {
    // Before the first frame that has other parameters.
    if (body.track === 'video' && body.part === 'configuration') this.settle(performance.now());
    if (this.fitting) this.fitting.push(tag, body.track === 'video' && body.key);
    else if (this.carried) this.takeFrame(body, atMs);
  }

  // --- As a source

  tick(nowMs: number): void {
    this.input.tick(nowMs);
    const { carriage, isHere } = this.input;
    if (!isHere) return;
    if (this.input.isTakenOnArrival && carriage && !this.hasAsked) {
      this.hasAsked = true;
      this.house.arrived(this.input.inputId);
    }
    this.settle(nowMs);
  }

  /** Carries what comes as it has to be, or not at all. */
  private settle(nowMs: number): void {
    if (!this.isWanted || nowMs < this.notBeforeMs) return;
    const carriage = this.input.carriage ?? (this.carried ? null : this.asLast());
    if (this.input.isBlocked) this.stop();
    else if (carriage && !this.carries(carriage)) this.start(carriage, nowMs);
  }

  private asLast(): Carriage | null {
    const parameters = this.input.parameters;
    return this.last && parameters && Buffer.compare(parameters, this.last.parameters) === 0
      ? this.last.carriage
      : null;
  }

  wantKeyframe(): void {
    // An encoder outside makes its keyframes when it wants.
  }

  covered(): void {
    // It is not told what viewers see.
  }

  close(): void {
    this.stop();
    this.input.close();
  }

  /** What is made anew once stays so: back and forth would be seen each time. */
  private carries({ video, audio }: Carriage): boolean {
    return this.carried !== null && this.carried.video >= video && this.carried.audio >= audio;
  }

  private start(carriage: Carriage, nowMs: number): void {
    const before = this.carried;
    this.stop();
    const carried = { video: carriage.video || !!before?.video, audio: carriage.audio || !!before?.audio };
    const { wanted, configurations } = this.input;
    this.carried = carried;
    this.last = { carriage: carried, parameters: this.input.parameters! };
    const frames = (this.frames = new SourceFrames(
      (frame) => this.programme.takeVideo(frame),
      (frame) => this.programme.takeAudio(frame),
    ));
    this.programme.begin({
      session: randomUUID(),
      width: wanted.width,
      height: wanted.height,
      videoKbps: wanted.mostKbps,
    });
    this.house.log.info({ input: this.input.inputId, ...carried }, 'an outside picture is carried');
    void this.house.slate(wanted).then((slate) => slate && this.programme.slate(slate));
    if (!carried.video && !carried.audio) {
      for (const tag of configurations) this.takeFrame(readBody(tag)!, 0);
      return;
    }
    const conversion = {
      of: 'an outside picture',
      args: fittingArguments(carried, wanted),
      hasAudio: true,
      heads: configurations,
    };
    this.fitting = new FlvConverter(conversion, this.house.log, {
      tag: (tag) => {
        const body = readBody(tag);
        if (body && this.frames === frames) this.takeFrame(body, tag.timeMs);
      },
      ended: () => {
        if (this.frames !== frames) return;
        this.stop();
        this.notBeforeMs = nowMs + AGAIN_MS;
      },
    });
  }

  private stop(): void {
    this.fitting?.close();
    this.fitting = null;
    this.frames = null;
    if (this.carried) this.programme.gap();
    this.carried = null;
  }

  private takeFrame(body: VideoBody | AudioBody, atMs: number): void {
    try {
      this.frames?.take(body, atMs);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      // A damaged frame: those that need it cannot be shown either.
      this.programme.gap();
    }
  }
}
