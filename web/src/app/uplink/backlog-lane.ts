import { encodePacket } from '@juncta/core/media/packets';
import type { Outbox } from '@juncta/core/uplink';
import type { PacketStore } from './packet-store';
import type { UplinkSocket, SocketEvents } from './uplink-socket';

/** A segment of the store is read for this much, and not for a packet or two. */
const WORTH_READING_BYTES = 60_000;
/** After a line that broke or was refused. */
const AGAIN_AFTER_MS = 1000;

export interface BacklogWays {
  /** The store, once all that was given to it is there; null: there is none yet. */
  store(): Promise<PacketStore | null>;
  open(events: SocketEvents): UplinkSocket;
  /** Bytes that may go out now, while so many are under way here. */
  room(waitingBytes: number): number;
  /** Nothing is left, or the relay wants none of it. */
  over?(sent: boolean): void;
}

/** Sends what was missed from a store, over a line of its own, and leaves room to what is live. */
export class BacklogLane {
  private socket: UplinkSocket | null = null;
  private sending = false;
  /** Asked to go on while it was about to stop. */
  private asked = false;
  private closed = false;
  private notBeforeMs = -Infinity;

  constructor(
    private readonly outbox: Outbox,
    private readonly ways: BacklogWays,
  ) {}

  /** To be called whenever more may go: costs nothing when none may. */
  async go(): Promise<void> {
    this.asked = true;
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.asked) {
        this.asked = false;
        while (await this.sendSome());
      }
    } finally {
      this.sending = false;
    }
  }

  /** To be called now and then. */
  watch(nowMs: number): void {
    this.socket?.watch(nowMs);
    void this.go();
  }

  say(request: object): void {
    this.socket?.say(request);
  }

  close(): void {
    this.closed = true;
    this.socket?.close();
  }

  /** False: it goes on later. */
  private async sendSome(): Promise<boolean> {
    const first = this.outbox.firstMissed;
    if (this.closed || first === null || performance.now() < this.notBeforeMs) return false;
    const socket = (this.socket ??= this.open());
    const room = () => this.ways.room(socket.underWay.bytes);
    if (!socket.ready || room() < WORTH_READING_BYTES) return false;
    const packets = (await (await this.ways.store())?.around(first))?.filter(({ number }) => number >= first);
    // A store may take its time, and the line may carry less by then.
    const left = room();
    if (!packets || left < WORTH_READING_BYTES) return false;
    if (packets[0]?.number !== first) {
      // It is not in the store any more: nobody can send it.
      if (this.outbox.takeMissed(first)) this.outbox.acknowledged('backlog', first);
      this.tellWhenDone();
      return true;
    }
    let bytes = 0;
    for (const packet of packets) {
      if (!socket.ready || bytes >= left) break;
      if (!this.outbox.takeMissed(packet.number)) continue;
      const encoded = encodePacket(packet) as Uint8Array<ArrayBuffer>;
      bytes += encoded.length;
      socket.send(encoded);
    }
    return true;
  }

  private open(): UplinkSocket {
    const socket: UplinkSocket = this.ways.open({
      welcome: () => void this.go(),
      acknowledged: (number) => {
        this.outbox.acknowledged('backlog', number);
        this.tellWhenDone();
        void this.go();
      },
      arrived: () => void this.go(),
      keyframeWanted: () => undefined,
      covered: () => undefined,
      refused: () => {
        this.lose(socket);
        this.ways.over?.(false);
      },
      lost: () => this.lose(socket),
    });
    return socket;
  }

  private tellWhenDone(): void {
    if (this.outbox.done) this.ways.over?.(true);
  }

  private lose(socket: UplinkSocket): void {
    if (this.socket !== socket) return;
    this.socket = null;
    this.notBeforeMs = performance.now() + AGAIN_AFTER_MS;
    this.outbox.lost('backlog');
  }
}
