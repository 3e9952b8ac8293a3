import { setShowDestinations } from '@juncta/contract/destinations';
import { keepAccount } from '../destinations/accounts-store';
import { addDestination } from '../destinations/store';
import type { House } from './house';

/** An account at the place that stands at this address, let in by its owner. Gives its id. */
export async function addAccount({ server }: House, address: string): Promise<string> {
  const id = crypto.randomUUID();
  const { db, secrets } = server.app;
  await keepAccount(db, {
    id,
    kind: 'kitefield',
    placeAccountId: id,
    name: 'The school',
    address,
    secret: secrets.lock('lasting', id),
    scopes: ['events'],
    widest: null,
    lostAt: null,
    connectedAt: 0,
  });
  return id;
}

/**
 * A destination called Harbour at the place that stands at this address. Gives its id.
 *
 * @param accountId null: it has a lasting token of its own
 */
export async function addHarbour(
  { server }: House,
  address: string,
  accountId: string | null = null,
): Promise<string> {
  const id = crypto.randomUUID();
  const { db, secrets } = server.app;
  await addDestination(db, {
    id,
    name: 'Harbour',
    code: 'HA',
    pattern: 'plain',
    kind: 'kitefield',
    address,
    secret: accountId === null ? secrets.lock('lasting', id) : null,
    accountId,
    placement: accountId === null ? null : { id: 'channel', kind: 'channel', name: 'The school' },
    pageUrl: null,
    addedAt: 0,
  });
  return id;
}

export async function sendTo(house: House, showId: string, destinationIds: string[]): Promise<void> {
  await house.as.producer.get(setShowDestinations, { params: { showId }, body: { destinationIds } });
}

/** A channel at the Emberplay that stands at this address, let in with a lasting token. Gives its id. */
export async function addEmberplay({ server }: House, address: string): Promise<string> {
  const id = crypto.randomUUID();
  const { db, secrets } = server.app;
  await addDestination(db, {
    id,
    name: `Channel ${id.slice(0, 4)}`,
    code: 'EM',
    pattern: 'plain',
    kind: 'emberplay',
    address,
    secret: secrets.lock('lasting', id),
    accountId: null,
    placement: null,
    pageUrl: null,
    addedAt: 0,
  });
  return id;
}
