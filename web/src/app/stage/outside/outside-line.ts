import { TELL_INPUT_EVERY_MS, type UplinkAnswer } from '@juncta/contract/uplink';
import { decodeTags, type FlvTag } from '@juncta/core/media/flv';
import { backoff } from '@juncta/core/retry';
import { LineSilence } from '@juncta/core/uplink';
import type { RelayLine } from './messages';

/** Somewhat more than lies between two words of the relay, and one may be missing. */
const SILENCE_MS = 2.5 * TELL_INPUT_EVERY_MS;
/** Somewhat more than lies between two calls of `watch`. */
const MOST_UNWATCHED_MS = 1500;

export interface LineEvents {
  /** The encoder is there: what follows is a stream from its beginning. */
  begins(): void;
  tag(tag: FlvTag): void;
  /** The encoder is gone, or the line is. */
  ends(): void;
  /** The relay wants another ticket. */
  ticketRefused(): void;
  /** The relay says no otherwise. It is asked again. */
  refused(sentence: string): void;
}

/** What comes of one outside picture over the network, for as long as it takes: a line that is lost is opened again. */
export class OutsideLine {
  private readonly policy = backoff({ firstMs: 300, longestMs: 3000, attempts: 1e9, random: Math.random });
  private socket: WebSocket | null = null;
  private silence = new LineSilence(performance.now(), MOST_UNWATCHED_MS);
  private attempt = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private isHere = false;
  private isOver = false;

  constructor(
    private readonly inputId: string,
    private line: RelayLine,
    private readonly events: LineEvents,
  ) {
    this.connect();
  }

  renew(line: RelayLine): void {
    this.line = line;
    if (this.socket?.readyState === WebSocket.OPEN)
      this.socket.send(JSON.stringify({ type: 'renew', ticket: line.ticket }));
    else if (!this.socket) this.connect();
  }

  /** To be called once a second. */
  watch(nowMs: number): void {
    if (this.socket && this.silence.look(nowMs) > SILENCE_MS) this.lost();
  }

  close(): void {
    this.isOver = true;
    clearTimeout(this.again);
    this.drop();
  }

  private connect(): void {
    if (this.isOver) return;
    clearTimeout(this.again);
    this.attempt += 1;
    const { uplinkUrl, ticket } = this.line;
    const socket = new WebSocket(uplinkUrl);
    socket.binaryType = 'arraybuffer';
    this.socket = socket;
    this.silence = new LineSilence(performance.now(), MOST_UNWATCHED_MS);
    const { inputId } = this;
    socket.onopen = () => socket.send(JSON.stringify({ type: 'receive', ticket, inputId }));
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      if (this.socket !== socket) return;
      this.silence.heard(performance.now());
      if (typeof data === 'string') this.hear(JSON.parse(data) as UplinkAnswer);
      else for (const tag of decodeTags(new Uint8Array(data)).tags) this.events.tag(tag);
    };
    socket.onclose = socket.onerror = () => {
      if (this.socket === socket) this.lost();
    };
  }

  private hear(answer: UplinkAnswer): void {
    if (answer.type === 'input') {
      this.attempt = 0;
      this.tell(answer.isHere);
    } else if (answer.type === 'refused') {
      // Another ticket, or another booking of the input, may open it again.
      if (answer.code === 'ticket') this.events.ticketRefused();
      else this.events.refused(answer.sentence);
      this.lost();
    }
  }

  private tell(isHere: boolean): void {
    if (this.isHere === isHere) return;
    this.isHere = isHere;
    if (isHere) this.events.begins();
    else this.events.ends();
  }

  private lost(): void {
    this.drop();
    this.again = setTimeout(() => this.connect(), this.policy.delayMs(this.attempt + 1)!);
  }

  private drop(): void {
    const { socket } = this;
    this.socket = null;
    socket?.close();
    this.tell(false);
  }
}
