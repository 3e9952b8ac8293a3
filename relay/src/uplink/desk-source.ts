import type { Hello } from '@juncta/contract/uplink';
import { splitUnits } from '@juncta/core/media/h264';
import type { Packet } from '@juncta/core/media/packets';
import { SAMPLE_RATE_HZ, type SourceVideoFrame } from '@juncta/core/programme';
import type { Lane } from '@juncta/core/uplink';
import type { Logger } from 'pino';
import { OpusToAac } from '../media/opus-to-aac';
import type { ProgrammeInput, ProgrammeSource } from '../programme/source';

/** The desk's end of the uplink. */
export interface DeskLine {
  readonly deskId: string;
  readonly acknowledge: (lane: Lane, number: number) => void;
  wantKeyframe(): void;
  covered(on: boolean): void;
}

export type Admission = { readonly ok: true } | { readonly ok: false; readonly sentence: string };

interface DeskSourceHouse {
  readonly log: Logger;
  /** Keeps a packet as it came, and acknowledges it once it is safe. */
  keep(lane: Lane, packet: Packet, bytes: Uint8Array, acknowledge: DeskLine['acknowledge']): void;
  /** Something in the report has changed. */
  changed(): void;
}

const INCOMING_MS = 3000;

/** The desks of a show, one at a time: what they send is kept, brought into the programme's form, and handed over. */
export class DeskSource implements ProgrammeSource {
  private desk: DeskLine | null = null;
  private session: string | null = null;
  private lastNumber = 0;
  private converter: OpusToAac | null = null;
  private slate: SourceVideoFrame[] = [];
  private incoming: { atMs: number; bytes: number }[] = [];
  /** Of the desk that composes: one that comes with a lower one was taken over. */
  epoch = 0;
  /** Tickets of a lower epoch are not good any longer, on any lane. */
  revokedBelow = 0;

  constructor(
    private readonly input: ProgrammeInput,
    private readonly house: DeskSourceHouse,
  ) {}

  get id(): string | null {
    return this.desk?.deskId ?? null;
  }

  get incomingKbps(): number {
    return Math.round((this.incoming.reduce((sum, { bytes }) => sum + bytes, 0) * 8) / INCOMING_MS);
  }

  /** A desk's live lane begins. Its format must be the show's, once that is settled. */
  admit(hello: Hello, desk: DeskLine): Admission {
    const { size } = this.input;
    if (size && (size.width !== hello.width || size.height !== hello.height)) {
      return {
        ok: false,
        sentence: `This show runs at ${size.width}x${size.height}, and that cannot change while it runs.`,
      };
    }
    this.desk = desk;
    if (this.session === hello.session) this.input.gap();
    else {
      this.session = hello.session;
      this.lastNumber = 0;
      this.input.begin(hello);
      this.converter?.close();
      this.converter = new OpusToAac((frame, time) => this.input.takeAudio({ frame, time }), this.house.log);
    }
    this.house.changed();
    return { ok: true };
  }

  /** The desk's line is gone. Another may have come in the meantime, which stays. */
  leave(desk: DeskLine): void {
    if (this.desk !== desk) return;
    this.desk = null;
    this.house.changed();
  }

  /** One packet as it came, whole and sound. Only the live lane's are shown; both are kept. */
  take(lane: Lane, packet: Packet, bytes: Uint8Array, desk: DeskLine): void {
    this.house.keep(lane, packet, bytes, desk.acknowledge);
    if (lane === 'backlog' || desk !== this.desk || packet.number <= this.lastNumber) return;
    if (packet.number !== this.lastNumber + 1 && this.lastNumber > 0) this.input.gap();
    this.lastNumber = packet.number;
    this.incoming.push({ atMs: performance.now(), bytes: bytes.length });
    const time = Math.round((packet.timeUs * SAMPLE_RATE_HZ) / 1_000_000);
    if (packet.slate) this.takeSlate(packet, time);
    else if (packet.track === 'audio') this.converter?.push(packet.payload, time);
    else this.input.takeVideo({ time, key: packet.key, units: splitUnits(packet.payload) });
  }

  covered(on: boolean): void {
    this.desk?.covered(on);
  }

  wantKeyframe(): void {
    this.desk?.wantKeyframe();
  }

  tick(nowMs: number): void {
    while (this.incoming[0] && nowMs - this.incoming[0].atMs > INCOMING_MS) this.incoming.shift();
  }

  close(): void {
    this.converter?.close();
  }

  private takeSlate(packet: Packet, time: number): void {
    if (packet.key) this.slate = [];
    this.slate.push({ time, key: packet.key, units: splitUnits(packet.payload) });
    this.input.slate({ videoFrames: [...this.slate] });
  }
}
