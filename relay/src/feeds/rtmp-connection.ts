import type { FlvTag } from '@juncta/core/media/flv';
import {
  MEDIA_CHUNK_STREAM,
  messageParts,
  PUBLISH_CHUNK_BYTES,
  RtmpPublisher,
  type PublisherEvent,
  type RtmpAddress,
} from '@juncta/core/media/rtmp';
import { randomBytes } from 'node:crypto';
import { connect as connectTcp, isIP, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';
import { ANSWER_PATIENCE_MS, type ConnectionEvent, type FeedConnection } from './connection';
import { Progress } from './progress';

/** After the last word so long, for it to be read; then the connection is cut. */
const FAREWELL_MS = 2000;
/** What may wait in the socket itself. The rest waits in the feed's queue, where it can be left out. */
const SOCKET_BYTES = 256 * 1024;

/** One RTMP(S) connection to one place. */
export class RtmpConnection implements FeedConnection {
  private readonly publisher: RtmpPublisher;
  private readonly socket: Socket;
  private readonly answerTimer: NodeJS.Timeout;
  private over = false;
  private readonly progress = new Progress();

  /** @param ip where `address.host` was found to be */
  constructor(
    address: RtmpAddress,
    key: string,
    ip: string,
    private readonly report: (event: ConnectionEvent) => void,
  ) {
    this.publisher = new RtmpPublisher(address, key, randomBytes(1528));
    const where = { host: ip, port: address.port };
    this.socket = address.secure
      ? connectTls({ ...where, ...(isIP(address.host) ? {} : { servername: address.host }) })
      : connectTcp(where);
    this.socket.setNoDelay(true);
    this.socket.once(address.secure ? 'secureConnect' : 'connect', () =>
      this.socket.write(this.publisher.begin()),
    );
    this.socket.on('data', (bytes) => this.receive(bytes));
    this.socket.on('error', (error) => this.lose('lost_connection', error.message));
    this.socket.on('close', () => this.lose('lost_connection', 'the place closed the connection'));
    this.answerTimer = setTimeout(
      () => this.lose('no_answer', 'the place did not answer in time'),
      ANSWER_PATIENCE_MS,
    );
  }

  /** How many more bytes it takes just now. */
  get room(): number {
    return Math.max(0, SOCKET_BYTES - this.socket.writableLength);
  }

  /** Bytes that the network has taken since the beginning. */
  get sentBytes(): number {
    return this.socket.bytesWritten - this.socket.writableLength;
  }

  /** Sends tags with their times moved by `-zeroMs`: each feed begins at 0. */
  send(tags: readonly FlvTag[], zeroMs: number): void {
    if (this.over || tags.length === 0) return;
    this.socket.cork();
    for (const { kind, timeMs, body } of tags) {
      const message = {
        chunkStream: MEDIA_CHUNK_STREAM[kind]!,
        type: kind,
        stream: this.publisher.streamId,
        timeMs: timeMs - zeroMs,
        payload: body,
      };
      for (const part of messageParts(message, PUBLISH_CHUNK_BYTES)) this.socket.write(part);
    }
    this.socket.uncork();
  }

  /** To be called now and then: notices a place that has stopped reading. */
  watch(nowMs: number): void {
    if (this.progress.stalls(nowMs, this.sentBytes, this.socket.writableLength))
      this.lose('no_answer', 'the place has stopped taking our stream');
  }

  /** Ends it: in good order, which may end the show at the place, or as if the line had broken. */
  hangUp(clean: boolean): void {
    if (this.over) return;
    this.finish();
    if (!clean) {
      this.socket.destroy();
      return;
    }
    for (const bytes of this.publisher.finish()) this.socket.write(bytes);
    this.socket.end();
    setTimeout(() => this.socket.destroy(), FAREWELL_MS).unref();
  }

  private receive(bytes: Uint8Array): void {
    if (this.over) return;
    try {
      const { send, events } = this.publisher.receive(bytes);
      for (const part of send) this.socket.write(part);
      for (const event of events) this.pass(event);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.lose('no_answer', 'what answers there does not speak RTMP');
    }
  }

  private pass(event: PublisherEvent): void {
    if (event.type === 'publishing') {
      clearTimeout(this.answerTimer);
      this.progress.begin(Date.now());
    }
    if (event.type === 'refused' || event.type === 'ended_there') {
      this.finish();
      this.socket.destroy();
    }
    this.report(event);
  }

  private lose(reason: 'lost_connection' | 'no_answer', why: string): void {
    if (this.over) return;
    this.finish();
    this.socket.destroy();
    this.report({ type: 'lost', reason, why });
  }

  private finish(): void {
    this.over = true;
    clearTimeout(this.answerTimer);
  }
}
