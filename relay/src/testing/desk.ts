import type { Ticket, UplinkAnswer } from '@juncta/contract/uplink';
import type { Packet } from '@juncta/core/media/packets';
import type { Lane } from '@juncta/core/uplink';
import { createHmac, randomUUID } from 'node:crypto';
import WebSocket from 'ws';
import { bytesOf } from './media';

export function ticketFor(secret: string, values: Partial<Ticket> & Pick<Ticket, 'showId'>): string {
  const ticket = { deskId: randomUUID(), epoch: 1, expiresAtMs: Date.now() + 60_000, ...values };
  const payload = Buffer.from(JSON.stringify(ticket)).toString('base64url');
  return `${payload}.${createHmac('sha256', secret).update(payload).digest('base64url')}`;
}

/** A desk's line to the relay, driven by hand. */
export class TestDesk {
  readonly answers: UplinkAnswer[] = [];
  closeCode: number | null = null;
  private readonly socket: WebSocket;
  private timer: NodeJS.Timeout | undefined;

  private constructor(port: number) {
    this.socket = new WebSocket(`ws://127.0.0.1:${port}/uplink`);
    this.socket.on('message', (data) =>
      this.answers.push(JSON.parse((data as Buffer).toString()) as UplinkAnswer),
    );
    this.socket.on('close', (code) => (this.closeCode = code));
    this.socket.on('error', () => undefined);
  }

  /** Opens a line and says hello. */
  static async open(
    port: number,
    ticket: string,
    session: string,
    more: { lane?: Lane; width?: number; height?: number } = {},
  ): Promise<TestDesk> {
    const desk = new TestDesk(port);
    await new Promise((done) => desk.socket.once('open', done));
    const hello = {
      type: 'hello',
      ticket,
      session,
      lane: 'live',
      width: 320,
      height: 180,
      videoKbps: 400,
      audioKbps: 96,
    };
    desk.say({ ...hello, ...more });
    return desk;
  }

  say(message: object): void {
    this.socket.send(JSON.stringify(message));
  }

  send(bytes: Uint8Array): void {
    this.socket.send(bytes);
  }

  sendAll(packets: readonly Packet[]): void {
    this.send(bytesOf(packets));
  }

  /** Sends packets as they come due by their own times, as a desk does. */
  play(packets: readonly Packet[]): void {
    const startedMs = performance.now();
    const fromUs = packets[0]!.timeUs;
    let next = 0;
    this.timer = setInterval(() => {
      const dueUs = fromUs + (performance.now() - startedMs) * 1000;
      const due: Packet[] = [];
      while (next < packets.length && packets[next]!.timeUs <= dueUs) due.push(packets[next++]!);
      if (due.length > 0 && this.socket.readyState === WebSocket.OPEN) this.sendAll(due);
      if (next >= packets.length) clearInterval(this.timer);
    }, 10);
  }

  /** The highest packet that was acknowledged. */
  get acknowledged(): number {
    const numbers = this.answers.flatMap((answer) => (answer.type === 'acknowledged' ? [answer.number] : []));
    return Math.max(0, ...numbers);
  }

  get refusal(): string | undefined {
    const found = this.answers.find((answer) => answer.type === 'refused');
    return found?.code;
  }

  /** As when its computer is switched off. */
  kill(): void {
    clearInterval(this.timer);
    this.socket.terminate();
  }
}
