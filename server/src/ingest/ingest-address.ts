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
export function ingestAddress(config: Config, req: IncomingMessage, inputId: string): IngestAddress {
  const { relay, https, trustProxy } = config;
  const host = hostOf(req, trustProxy) ?? 'localhost';
  const named = URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname : 'localhost';
  const where = relay?.ingestHost ?? `${named}:${relay?.ingestPort ?? 0}`;
  return {
    address: `rtmp://${where}/in/${inputId}`,
    secureAddress: https ? `rtmps://${where}/in/${inputId}` : null,
  };
}
