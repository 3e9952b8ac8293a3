import type { IncomingMessage } from 'node:http';
import type { Config } from '../config';
import { uplinkAddress } from './uplink-address';

describe('where a desk reaches the relay', () => {
  const relay = { uplinkPort: 4711, publicUrl: null as string | null };
  const address = (change: object, host = 'juncta.example:8420') =>
    uplinkAddress(
      { relay, https: null, trustProxy: false, ...change } as unknown as Config,
      { headers: { host }, socket: {} } as unknown as IncomingMessage,
    )?.href ?? null;

  for (const [what, given, host, wanted] of [
    [
      'at its own port under the name that was asked',
      {},
      'juncta.example:8420',
      'ws://juncta.example:4711/uplink',
    ],
    ['by an IPv6 address', {}, '[::1]:8420', 'ws://[::1]:4711/uplink'],
    ['encrypted as the server is', { https: {} }, 'juncta.example', 'wss://juncta.example:4711/uplink'],
    ['on this machine when the name is none', {}, 'a b', 'ws://localhost:4711/uplink'],
    [
      'where a proxy takes it on',
      { relay: { ...relay, publicUrl: 'wss://juncta.example/relay' } },
      'else.example',
      'wss://juncta.example/relay/uplink',
    ],
    [
      'where a proxy takes it on, with a slash at its end',
      { relay: { ...relay, publicUrl: 'wss://juncta.example/' } },
      'else.example',
      'wss://juncta.example/uplink',
    ],
    ['nowhere without a relay', { relay: null }, 'juncta.example', null],
  ] as const)
    it(`is ${what}`, () => expect(address(given, host)).toBe(wanted));
});
