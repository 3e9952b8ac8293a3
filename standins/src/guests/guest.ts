import { MediaStreamTrack, RTCPeerConnection, RtpHeader, RtpPacket, useOPUS, useVP8 } from 'werift';
import { io, type Socket } from 'socket.io-client';
import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import type { Clip } from './clip';
import { FRAMES_PER_S } from './face';

const TICK_MS = 20;
/** RTP payloads stay under what every line carries in one datagram. */
const MOST_PAYLOAD_BYTES = 1100;
const PATIENCE_MS = 10_000;
const AGAIN_MS = 1000;

type Answer = { ok: true; sdp: string } | { ok: false; problem: string };

/**
 * One made-up guest in the house: comes by a personal link as anybody would, over the house's own doors, sends picture
 * and voice, and comes back when the line or the house was away.
 */
export class Guest {
  private socket: Socket | null = null;
  private peer: RTCPeerConnection | null = null;
  private sending: NodeJS.Timeout | undefined;
  private again: NodeJS.Timeout | undefined;
  private left = false;
  /** What it sends, as the room names it: its first camera. */
  private source = '';

  constructor(
    private readonly houseUrl: string,
    private readonly clip: Clip,
    private readonly log: Logger,
  ) {}

  /** @param token of the personal link */
  async enter(token: string): Promise<void> {
    const response = await fetch(new URL('/api/guest/session', this.houseUrl), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: new URL(this.houseUrl).origin },
      body: JSON.stringify({ token }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    if (!response.ok) throw new Error(`the house answered ${response.status}`);
    const cookie = response.headers
      .getSetCookie()
      .map((line) => line.split(';')[0])
      .join('; ');
    this.source = `camera:${await this.readOwnId(cookie)}:1`;
    const socket = io(new URL('/room', this.houseUrl).href, {
      path: '/api/socket',
      transports: ['websocket'],
      extraHeaders: { Cookie: cookie },
      auth: { placeId: randomUUID(), takeOver: true },
      // The house may have a certificate of its own.
      rejectUnauthorized: false,
    });
    this.socket = socket;
    socket.on('connect', () => {
      socket.emit('offers', { offers: [{ source: this.source, video: 'there', audio: 'there' }] });
      void this.publish();
    });
    socket.on('publish_again', () => void this.publish());
    socket.on('disconnect', () => this.hangUp());
    socket.on('signed_out', () => this.leave());
    socket.on('connect_error', (error) => {
      if (error.message === 'signed_out') this.leave();
      else if (!socket.active && !this.left) this.again = setTimeout(() => socket.connect(), AGAIN_MS);
    });
  }

  leave(): void {
    this.left = true;
    clearTimeout(this.again);
    this.hangUp();
    this.socket?.disconnect();
  }

  get gone(): boolean {
    return this.left;
  }

  private async readOwnId(cookie: string): Promise<string> {
    const response = await fetch(new URL('/api/guest', this.houseUrl), {
      headers: { Cookie: cookie },
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    if (!response.ok) throw new Error(`the house answered ${response.status}`);
    return ((await response.json()) as { personId: string }).personId;
  }

  private async publish(): Promise<void> {
    this.hangUp();
    const peer = new RTCPeerConnection({
      codecs: { audio: [useOPUS()], video: [useVP8()] },
      iceServers: [],
      iceUseIpv6: false,
      iceAdditionalHostAddresses: ['127.0.0.1'],
    });
    this.peer = peer;
    const video = new MediaStreamTrack({ kind: 'video' });
    const audio = new MediaStreamTrack({ kind: 'audio' });
    for (const track of [audio, video]) peer.addTransceiver(track, { direction: 'sendonly' });
    try {
      await peer.setLocalDescription(await peer.createOffer());
      await gathered(peer);
      const answer = (await this.socket!.timeout(PATIENCE_MS).emitWithAck('publish', {
        publisher: this.source,
        sdp: peer.localDescription!.sdp,
      })) as Answer;
      if (!answer.ok) throw new Error(answer.problem);
      await peer.setRemoteDescription({ type: 'answer', sdp: answer.sdp });
      if (this.peer === peer) this.send(video, audio);
    } catch (error) {
      this.log.warn({ err: error }, 'could not send');
      if (this.peer !== peer || this.left) return;
      this.hangUp();
      this.again = setTimeout(() => {
        if (this.socket?.connected) void this.publish();
      }, AGAIN_MS);
    }
  }

  private hangUp(): void {
    clearInterval(this.sending);
    clearTimeout(this.again);
    void this.peer?.close();
    this.peer = null;
  }

  /** By the time that has gone by, not by how often the timer fires. */
  private send(video: MediaStreamTrack, audio: MediaStreamTrack): void {
    const startedMs = performance.now();
    let [picture, sound, sequence] = [0, 0, 0];
    this.sending = setInterval(() => {
      const passedMs = performance.now() - startedMs;
      for (; (sound * 1000) / 50 <= passedMs; sound++) {
        const payload = this.clip.sounds[sound % this.clip.sounds.length]!;
        audio.writeRtp(packet(sound & 0xffff, sound * 960, sound === 0, payload));
      }
      for (; (picture * 1000) / FRAMES_PER_S <= passedMs; picture++) {
        const frame = this.clip.pictures[picture % this.clip.pictures.length]!;
        const timestamp = Math.round((picture * 90_000) / FRAMES_PER_S);
        for (let at = 0; at < frame.length; at += MOST_PAYLOAD_BYTES) {
          const end = Math.min(frame.length, at + MOST_PAYLOAD_BYTES);
          // The descriptor of RFC 7741: the first packet of a picture says that it is.
          const payload = Buffer.concat([Buffer.of(at === 0 ? 0x10 : 0), frame.subarray(at, end)]);
          video.writeRtp(packet(sequence++ & 0xffff, timestamp, end === frame.length, payload));
        }
      }
    }, TICK_MS);
  }
}

function packet(sequenceNumber: number, timestamp: number, marker: boolean, payload: Buffer): RtpPacket {
  return new RtpPacket(
    new RtpHeader({ sequenceNumber, timestamp: timestamp >>> 0, marker, payloadType: 96, ssrc: 1 }),
    payload,
  );
}

async function gathered(peer: RTCPeerConnection): Promise<void> {
  if (peer.iceGatheringState === 'complete') return;
  await peer.iceGatheringStateChange.watch((state) => state === 'complete', PATIENCE_MS);
}
