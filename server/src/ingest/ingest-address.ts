import type { IncomingMessage } from 'node:http';
import { hostOf } from '../access/same-site';
import type { Config } from '../config';

/** Where an encoder sends to, without its key. Secure: over TLS, on the same port. */
export interface IngestAddress {
  readonly address: string;
  /** Null: this house has no certificate. */
  readonly secureAddress: string | null;
}

/** By the name under which whoever asks reaches the house, unless the house says otherwise. */
export function ingestAddress(
  config: Config,
  req: IncomingMessage,
  { id, srtPort }: { readonly id: string; readonly srtPort: number | null },
): IngestAddress {
  const { relay, https, trustProxy } = config;
  const host = hostOf(req, trustProxy) ?? 'localhost';
  const named = URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname : 'localhost';
  const where = relay?.ingestHost ?? `${named}:${relay?.ingestPort ?? 0}`;
  if (srtPort !== null) {
    const outside = relay?.ingestHost?.replace(/:\d+$/, '') ?? named;
    return { address: `srt://${outside}:${srtPort}`, secureAddress: null };
  }
  return {
    address: `rtmp://${where}/in/${id}`,
    secureAddress: https ? `rtmps://${where}/in/${id}` : null,
  };
}
