import type { Hello, UplinkAnswer } from '@juncta/contract/uplink';
import { decodePackets, type Packet } from '@juncta/core/media/packets';

/** The relay's end of a line that a desk has opened. */
export class FakeLine {
  static readonly OPEN = WebSocket.OPEN;
  static all: FakeLine[] = [];
  /** What a line does as soon as it is opened; nothing: it is welcome. */
  static greeting: 'welcome' | 'silence' | Extract<UplinkAnswer, { type: 'refused' }> = 'welcome';

  binaryType = '';
  bufferedAmount = 0;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string | ArrayBuffer }) => void) | null = null;
  onclose: (() => void) | null = null;
  onerror: (() => void) | null = null;
  hello: Hello | null = null;
  closed = false;
  readonly said: unknown[] = [];
  readonly packets: Packet[] = [];
  bytes = 0;

  constructor(readonly url: string) {
    FakeLine.all.push(this);
    queueMicrotask(() => this.onopen?.());
  }

  /** The lines of that lane, in the order of their opening. */
  static of(lane: Hello['lane']): FakeLine[] {
    return FakeLine.all.filter(({ hello }) => hello?.lane === lane);
  }

  get readyState(): number {
    return this.closed ? WebSocket.CLOSED : FakeLine.OPEN;
  }

  get numbers(): number[] {
    return this.packets.map(({ number }) => number);
  }

  /** What the desk sends. */
  send(data: string | Uint8Array): void {
    if (typeof data !== 'string') {
      this.bytes += data.length;
      this.packets.push(...decodePackets(data).packets);
      return;
    }
    const request = JSON.parse(data) as Hello | { type: 'cover' };
    if (request.type !== 'hello') {
      this.said.push(request);
      return;
    }
    this.hello = request;
    const { greeting } = FakeLine;
    if (greeting !== 'silence') this.answer(greeting === 'welcome' ? { type: 'welcome' } : greeting);
  }

  answer(what: UplinkAnswer): void {
    this.onmessage?.({ data: JSON.stringify(what) });
  }

  /** All that was sent is there, and on disk. */
  takeAll(): void {
    this.answer({ type: 'measured', bytes: this.bytes });
    const last = this.packets.at(-1);
    if (last) this.answer({ type: 'acknowledged', lane: this.hello!.lane, number: last.number });
  }

  close(): void {
    this.closed = true;
  }

  /** As a cable that is pulled. */
  break(): void {
    this.closed = true;
    this.onclose?.();
  }
}

/** Puts made-up lines in the place of real ones; gives what undoes it. */
export function fakeLines(): () => void {
  const real = globalThis.WebSocket;
  FakeLine.all = [];
  FakeLine.greeting = 'welcome';
  globalThis.WebSocket = FakeLine as unknown as typeof WebSocket;
  return () => (globalThis.WebSocket = real);
}
