import type { Connector } from './connector';

/** A server address and a stream key, and nothing else is known. */
export const customRtmp: Connector = {
  arrival: 'public',
  ingest: async ({ address, secret }) => ({ address, key: secret }),
  look: null,
};
