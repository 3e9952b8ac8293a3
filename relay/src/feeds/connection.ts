import type { FlvTag } from '@juncta/core/media/flv';
import { parseRtmpAddress, type PublisherEvent, type RtmpAddress } from '@juncta/core/media/rtmp';
import { parseSrtAddress, readSrtKey, type SrtAddress } from '@juncta/core/media/srt';
import { RtmpConnection } from './rtmp-connection';
import { SrtConnection } from './srt-connection';

/** What comes of a connection. After `lost` or a refusal nothing more comes. */
export type ConnectionEvent =
  | PublisherEvent
  /** It can only be made with something to send: the programme goes into it before the place has said yes. */
  | { readonly type: 'wants_programme' }
  | { readonly type: 'lost'; readonly reason: 'lost_connection' | 'no_answer'; readonly why: string };

/** One connection to one place, whatever it speaks. */
export interface FeedConnection {
  /** How many more bytes it takes just now. */
  readonly room: number;
  /** Bytes that were taken from here since the beginning. */
  readonly sentBytes: number;
  /** Sends tags with their times moved by `-zeroMs`: each feed begins at 0. */
  send(tags: readonly FlvTag[], zeroMs: number): void;
  /** To be called now and then: notices a place that has stopped reading. */
  watch(nowMs: number): void;
  /** Ends it: in good order, which may end the show at the place, or as if the line had broken. */
  hangUp(clean: boolean): void;
}

export type FeedAddress =
  | { readonly protocol: 'rtmp'; readonly where: RtmpAddress }
  | { readonly protocol: 'srt'; readonly where: SrtAddress };

/** Null when it is an address of neither. */
export function readFeedAddress(text: string): FeedAddress | null {
  const rtmp = parseRtmpAddress(text);
  if (rtmp) return { protocol: 'rtmp', where: rtmp };
  const srt = parseSrtAddress(text);
  return srt && { protocol: 'srt', where: srt };
}

/** @param ip where the address's host was found to be */
export function openConnection(
  address: FeedAddress,
  key: string,
  ip: string,
  report: (event: ConnectionEvent) => void,
): FeedConnection {
  return address.protocol === 'rtmp'
    ? new RtmpConnection(address.where, key, ip, report)
    : new SrtConnection(address.where, readSrtKey(key), ip, report);
}
