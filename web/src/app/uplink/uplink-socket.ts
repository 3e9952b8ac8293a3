import { LineSilence, UnderWay, type Lane } from '@juncta/core/uplink';
import type { Hello, UplinkAnswer } from '@juncta/contract/uplink';

type Refusal = Extract<UplinkAnswer, { type: 'refused' }>;

export interface SocketEvents {
  welcome(): void;
  acknowledged(number: number): void;
  /** More of what was sent is there. */
  arrived(): void;
  keyframeWanted(): void;
  /** Viewers see the slate because somebody wants it, or do so no more. */
  covered(on: boolean): void;
  refused(refusal: Refusal): void;
  /** Gone, for whatever reason; nothing more comes. */
  lost(): void;
}

/** Longer without a word and the line is taken to be dead: acknowledgements come many times a second. */
const SILENCE_MS = 4000;
/** Somewhat more than lies between two calls of `watch`. */
const MOST_UNWATCHED_MS = 1500;

/** One socket to the relay: one lane of one session. */
export class UplinkSocket {
  private readonly socket: WebSocket;
  private over = false;
  private open = false;
  private readonly silence = new LineSilence(performance.now(), MOST_UNWATCHED_MS);
  /** Sent and not acknowledged: only then does silence mean anything. */
  private expects = true;
  readonly underWay = new UnderWay();

  constructor(
    url: string,
    hello: Omit<Hello, 'type'>,
    readonly lane: Lane,
    private readonly events: SocketEvents,
  ) {
    this.socket = new WebSocket(url);
    this.socket.binaryType = 'arraybuffer';
    this.socket.onopen = () => this.socket.send(JSON.stringify({ type: 'hello', ...hello }));
    this.socket.onmessage = ({ data }) => this.hear(JSON.parse(data as string) as UplinkAnswer);
    this.socket.onclose = () => this.end();
    this.socket.onerror = () => this.end();
  }

  get ready(): boolean {
    return this.open && !this.over;
  }

  send(packets: Uint8Array<ArrayBuffer>): void {
    this.socket.send(packets);
    this.underWay.sends(packets.length, performance.now());
    if (!this.expects) this.silence.heard(performance.now());
    this.expects = true;
  }

  say(request: object): void {
    if (this.ready) this.socket.send(JSON.stringify(request));
  }

  /** To be called once a second. */
  watch(nowMs: number): void {
    if (this.silence.look(nowMs) > SILENCE_MS && this.expects) this.end();
  }

  close(): void {
    this.over = true;
    this.socket.close();
  }

  private hear(answer: UplinkAnswer): void {
    if (this.over) return;
    const nowMs = performance.now();
    this.silence.heard(nowMs);
    switch (answer.type) {
      case 'welcome':
        this.open = true;
        this.expects = false;
        this.events.welcome();
        break;
      case 'acknowledged':
        this.expects = false;
        this.events.acknowledged(answer.number);
        break;
      case 'measured':
        this.underWay.arrives(answer.bytes, nowMs);
        this.events.arrived();
        break;
      case 'keyframe_wanted':
        this.events.keyframeWanted();
        break;
      case 'covered':
        this.events.covered(answer.on);
        break;
      case 'refused':
        this.over = true;
        this.events.refused(answer);
        break;
    }
  }

  private end(): void {
    if (this.over) return;
    this.over = true;
    this.socket.close();
    this.events.lost();
  }
}
