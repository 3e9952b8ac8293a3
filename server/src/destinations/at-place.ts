import type { App } from '../app';
import { appendEvent } from '../events/store';
import { Refusal } from '../http/errors';
import { findAccount, setLost, type AccountRow } from './accounts-store';
import { PlaceAway, PlaceRefused } from './ask-place';
import type { Target } from './connectors';
import type { DestinationRow } from './store';

/** How a destination is reached: by its account's token, or by its own key. */
export async function targetOf(app: App, row: DestinationRow): Promise<Target> {
  if (row.accountId === null) {
    const secret = app.secrets.unlock(row.secret!, row.id);
    return { id: row.id, address: row.address, secret, ...withinOf(row) };
  }
  const account = (await findAccount(app.db, row.accountId))!;
  return { ...accountTarget(app, account), ...withinOf(row) };
}

/** Where within a place something is, and where its feed goes in. */
const withinOf = ({ placement, region, nearestRegion }: DestinationRow) => ({
  placement: placement?.id ?? null,
  region: region ?? nearestRegion,
});

export function accountTarget(app: App, { id, address, secret }: AccountRow): Target {
  return { id, address, secret: app.secrets.unlock(secret, id), placement: null };
}

const isAuthorisation = (error: unknown) =>
  error instanceof PlaceRefused && (error.status === 401 || error.status === 400);

/** Does something at a destination's place, and remembers whether its account is still let in. */
export async function atPlace<T>(
  app: App,
  row: DestinationRow,
  act: (target: Target) => Promise<T>,
): Promise<T> {
  const account = row.accountId === null ? undefined : await findAccount(app.db, row.accountId);
  const target = account ? { ...accountTarget(app, account), ...withinOf(row) } : await targetOf(app, row);
  try {
    const done = await act(target);
    if (account && account.lostAt !== null) await remember(app, account.id, null);
    return done;
  } catch (error) {
    if (account?.lostAt === null && isAuthorisation(error)) await remember(app, account.id, app.clock.now());
    throw error;
  }
}

async function remember(app: App, accountId: string, lostAt: number | null): Promise<void> {
  if (!(await setLost(app.db, accountId, lostAt))) return;
  await app.db.transaction((tx) => appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {}));
}

/** @param so what did not happen, for the sentence */
export function placeRefusal(name: string, error: unknown, so: string): unknown {
  if (error instanceof PlaceAway) {
    return new Refusal(
      'place_away',
      `${name} does not answer just now, so ${so}. Try again in a few seconds.`,
    );
  }
  if (error instanceof PlaceRefused) {
    return new Refusal(
      'place_away',
      isAuthorisation(error)
        ? `${name} no longer accepts our authorisation, so ${so}. A producer has to connect it again.`
        : `${name} said no, so ${so}: ${error.message.replace(/\.$/, '')}.`,
    );
  }
  return error;
}
