import { isAddress, isPublicAddress } from '@juncta/core/destinations';
import { lookup } from 'node:dns/promises';

/** Thrown when a feed's address leads to where feeds must not go. */
export class AddressRefused extends Error {
  constructor(
    message: string,
    /** The name leads nowhere. */
    readonly isUnknown: boolean,
  ) {
    super(message);
  }
}

const LOOKUP_PATIENCE_MS = 5000;

/**
 * The network address of a host, looked up now and used as it is: a name that leads elsewhere a moment later changes
 * nothing. Addresses inside the machine's own network are refused unless the house allows them.
 */
export async function resolveOutgoing(host: string, allowLocal: boolean): Promise<string> {
  const found = isAddress(host) ? [host] : await lookUp(host);
  const usable = found.find((address) => allowLocal || isPublicAddress(address));
  if (usable === undefined) {
    throw new AddressRefused(
      found.length === 0
        ? `${host} is not known`
        : `${host} lies inside this machine’s own network, and feeds may not go there`,
      found.length === 0,
    );
  }
  return usable;
}

async function lookUp(host: string): Promise<string[]> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, failed) => {
    timer = setTimeout(() => failed(new Error(`${host} was not found in time`)), LOOKUP_PATIENCE_MS);
  });
  try {
    // IPv4 first: some places announce IPv6 addresses that do not answer.
    const found = await Promise.race([lookup(host, { all: true, order: 'ipv4first' }), late]);
    return found.map(({ address }) => address);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOTFOUND') return [];
    throw error;
  } finally {
    clearTimeout(timer);
  }
}
