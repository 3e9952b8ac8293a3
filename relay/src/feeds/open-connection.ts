import { parseRtmpAddress, type RtmpAddress } from '@juncta/core/media/rtmp';
import { parseSrtAddress, readSrtKey, type SrtAddress } from '@juncta/core/media/srt';
import type { ConnectionEvent, FeedConnection } from './connection';
import { RtmpConnection } from './rtmp-connection';
import { SrtConnection } from './srt-connection';

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
