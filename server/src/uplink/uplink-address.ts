import type { IncomingMessage } from 'node:http';
import { hostOf } from '../access/same-site';
import type { Config } from '../config';

/** The relay's socket as the browser that asks can reach it, `ws(s)://…/uplink`; null: this house has no relay. */
export function uplinkAddress(config: Config, req: IncomingMessage): URL | null {
  const { relay, https, trustProxy } = config;
  if (!relay) return null;
  if (relay.publicUrl) return new URL('uplink', `${relay.publicUrl.replace(/\/*$/, '')}/`);
  const host = hostOf(req, trustProxy) ?? 'localhost';
  const named = URL.canParse(`http://${host}`) ? new URL(`http://${host}`).hostname : 'localhost';
  return new URL(`${https ? 'wss' : 'ws'}://${named}:${relay.uplinkPort}/uplink`);
}
