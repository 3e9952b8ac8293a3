import type { InputsRequest } from '@juncta/contract/relay';
import type { CallProblem } from '@juncta/core/ingest';
import type { VideoCodec } from '@juncta/core/media/flv';
import { readSrtKey } from '@juncta/core/media/srt';
import { type ChildProcess, spawn } from 'node:child_process';
import { closeSync } from 'node:fs';
import type { Logger } from 'pino';
import { AddressRefused } from '../feeds/outgoing';
import { refusalIn } from '../feeds/srt-connection';
import { FlvPipe } from '../media/flv-pipe';
import { namelessFile } from '../media/nameless-file';
import type { EncoderLine, Input } from './input';
import { notOfFlv, receivingArguments, whereItCalls, whereItListens, type MadeAnew } from './srt-receiving';

export type SrtBooking = NonNullable<InputsRequest['inputs'][number]['srt']>;

/** It listens or calls again so soon after an encoder has gone: one that is back is not to find a closed door. */
const AGAIN_MS = 200;
/** A listener that could not even begin, its port taken by another program, and a call that nobody took, come so much later. */
const AFTER_FAILURE_MS = 3000;
/** What has to be made anew is forgotten so long after an encoder was here: another one may send what need not. */
const REMEMBERED_MS = 60_000;

interface SrtHouse {
  /** Where encoders reach this machine. */
  readonly host: string;
  /** Whether encoders may be called inside the machine's own network. */
  readonly allowLocalPlaces: boolean;
  readonly log: Logger;
}

/**
 * An input that comes by SRT: one ffmpeg that listens at a port of its own and lets in who has the passphrase, or that calls
 * an encoder which listens. One encoder at a time; what comes is handed on without encoding it. What FLV cannot carry is made
 * H.264 or AAC from the next call on.
 */
export class SrtLine implements EncoderLine {
  readonly isSecure: boolean;
  private child: ChildProcess | null = null;
  private again: NodeJS.Timeout | undefined;
  private isClosed = false;
  private isHere = false;
  private made: MadeAnew = { video: null, audio: false };
  private madeAtMs = 0;
  private says = '';

  constructor(
    private readonly input: Input,
    readonly booking: SrtBooking,
    private readonly house: SrtHouse,
  ) {
    this.isSecure = 'port' in booking || readSrtKey(booking.key).passphrase !== '';
    void this.open();
  }

  get madeFrom(): VideoCodec | null {
    return this.made.video;
  }

  /** It goes, and may come again. */
  end(): void {
    this.child?.kill('SIGKILL');
  }

  close(): void {
    this.isClosed = true;
    clearTimeout(this.again);
    this.child?.kill('SIGKILL');
    this.leave();
  }

  private get calls(): boolean {
    return 'address' in this.booking;
  }

  private async open(): Promise<void> {
    const { booking, house } = this;
    let where: string;
    try {
      where =
        'port' in booking
          ? whereItListens(booking, house.host)
          : await whereItCalls(booking, house.allowLocalPlaces);
    } catch (error) {
      this.fails(error instanceof AddressRefused && !error.isUnknown ? 'not_allowed' : 'not_found');
      this.openAfter(AFTER_FAILURE_MS);
      return;
    }
    if (!this.isClosed) this.run(where);
  }

  private run(where: string): void {
    if (performance.now() - this.madeAtMs > REMEMBERED_MS) this.made = { video: null, audio: false };
    const list = namelessFile(where);
    const pipe = new FlvPipe();
    const began = performance.now();
    const made = this.made;
    this.says = '';
    let child: ChildProcess;
    try {
      child = spawn('ffmpeg', receivingArguments(made, this.input.wanted.rateHz), {
        stdio: ['ignore', 'pipe', 'pipe', list],
        env: { PATH: process.env['PATH'] },
      });
    } finally {
      closeSync(list);
    }
    this.child = child;
    child.stdout!.on('data', (bytes: Buffer) => {
      const tags = this.isClosed ? [] : pipe.read(bytes);
      if (tags === null) child.kill('SIGKILL');
      for (const tag of tags ?? []) {
        if (!this.isHere) this.input.begin(this);
        this.isHere = true;
        this.input.take(tag, this);
      }
    });
    child.stderr!.on('data', (text: Buffer) => this.hear(String(text)));
    child.on('error', (error) => this.house.log.error({ err: error }, 'ffmpeg could not be started for SRT'));
    child.on('close', () => {
      const wasHere = this.isHere;
      this.leave();
      if (this.isClosed) return;
      this.openAfter(this.waitAfter(wasHere || made !== this.made, performance.now() - began));
    });
  }

  /** @param hasCome an encoder was here, or is to be taken otherwise than it was */
  private waitAfter(hasCome: boolean, lastedMs: number): number {
    if (hasCome) return AGAIN_MS;
    if (this.calls) {
      const refusal = refusalIn(this.says);
      const isPassphrase = refusal !== null && /passphrase|encryption/i.test(refusal);
      this.fails(refusal === null ? 'no_answer' : isPassphrase ? 'wrong_passphrase' : 'refused');
      return AFTER_FAILURE_MS;
    }
    if (lastedMs >= AFTER_FAILURE_MS) return AGAIN_MS;
    this.house.log.warn({ says: this.says.trim().slice(-300) }, 'a listener for SRT ended at once');
    return AFTER_FAILURE_MS;
  }

  private openAfter(ms: number): void {
    if (!this.isClosed) this.again = setTimeout(() => void this.open(), ms);
  }

  private fails(problem: CallProblem): void {
    if (!this.isClosed) this.input.callFailed(problem);
  }

  private hear(text: string): void {
    this.says = (this.says + text).slice(-2000);
    if (!this.calls && /BADSECRET|Incorrect passphrase/.test(text)) this.input.knock(Date.now());
    const refused = notOfFlv(this.says);
    const made = {
      video: this.made.video ?? refused?.video ?? null,
      audio: this.made.audio || !!refused?.audio,
    };
    if (made.video === this.made.video && made.audio === this.made.audio) return;
    this.made = made;
    this.madeAtMs = performance.now();
  }

  private leave(): void {
    if (!this.isHere) return;
    this.isHere = false;
    this.madeAtMs = performance.now();
    this.input.leave(this);
  }
}
