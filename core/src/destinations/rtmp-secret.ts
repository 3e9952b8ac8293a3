/**
 * What is secret of a place that is reached by RTMP: its stream key, and whatever its address carries behind `?`, which at
 * many places is a token. Both are kept as one text. Neither can hold a blank, so one stands between them:
 * `?token=4711 the-key`; without a query it is the key alone.
 */
export interface RtmpIngest {
  /** For a feed: with its query, where it has one. */
  readonly address: string;
  readonly key: string;
}

/** Takes the query off an address that is to be shown, and puts it into the secret. Other schemes are left as they are. */
export function hideQuery({ address, key }: RtmpIngest): {
  readonly address: string;
  readonly secret: string;
} {
  const at = address.indexOf('?');
  if (at < 0 || !/^rtmps?:/i.test(address)) return { address, secret: key };
  return { address: address.slice(0, at), secret: `${address.slice(at)} ${key}` };
}

/** Where a feed goes in, from what {@link hideQuery} gave. */
export function openIngest(address: string, secret: string): RtmpIngest {
  const found = /^(\?\S*) (\S*)$/.exec(secret);
  return found && /^rtmps?:/i.test(address)
    ? { address: `${address}${found[1]!}`, key: found[2]! }
    : { address, key: secret };
}
