import {
  addPlacement,
  beginConnecting,
  disconnectAccount,
  listAccounts,
  readPlacements,
  type Destination,
} from '@juncta/contract/destinations';
import { right } from '@juncta/contract/http';
import type { Request, Router } from 'express';
import { createHash, randomUUID } from 'node:crypto';
import * as z from 'zod';
import { hostOf } from '../access/same-site';
import { enforce } from '../access/sessions';
import { visit } from '../access/visits';
import { hashToken, newToken } from '../access/tokens';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { isSendingTo } from '../feeds/store';
import { understood } from './ask-place';
import { accountTarget, placeRefusal } from './at-place';
import { connectorOf, type Kind } from './connectors';
import * as accounts from './accounts-store';
import * as store from './store';

/** As this house is registered at places. */
const CLIENT_ID = 'juncta';
/** An owner has so long to decide. */
const CONNECTING_LIFE_MS = 15 * 60_000;
const CALLBACK = '/api/accounts/callback';

const Given = z.object({ refresh_token: z.string().min(1) });

export function mountAccounts(router: Router, app: App): void {
  mount(router, app, listAccounts, async () => ({
    accounts: (await accounts.listAccounts(app.db)).map(accounts.describeAccount),
    places: (Object.keys(app.config.demoPlaces) as Kind[])
      .filter((kind) => connectorOf(kind).accounts)
      .map((kind) => ({ kind, place: connectorOf(kind).rules.place })),
  }));

  mount(router, app, beginConnecting, async ({ body, memberId, req }) => {
    const connector = connectorOf(body.kind).accounts;
    const address = app.config.demoPlaces[body.kind]?.url;
    if (!connector || !address) throw notFound('place');
    if (body.accountId !== null && !(await accounts.findAccount(app.db, body.accountId)))
      throw notFound('account');
    const [state, verifier] = [newToken(), newToken()];
    const redirectUri = ownAddress(app, req) + CALLBACK;
    const nowMs = app.securityClock.now();
    const stateHash = hashToken(state);
    await accounts.beginConnecting(
      app.db,
      {
        stateHash,
        kind: body.kind,
        verifier: app.secrets.lock(verifier, stateHash),
        redirectUri,
        accountId: body.accountId,
        memberId,
        expiresAt: nowMs + CONNECTING_LIFE_MS,
      },
      nowMs,
    );
    const url = new URL('/authorise', address);
    const query = {
      response_type: 'code',
      client_id: CLIENT_ID,
      redirect_uri: redirectUri,
      state,
      scope: connector.scopes.join(' '),
      code_challenge: createHash('sha256').update(verifier).digest('base64url'),
      code_challenge_method: 'S256',
    };
    for (const [name, value] of Object.entries(query)) url.searchParams.set(name, value);
    return { url: url.href };
  });

  /** Where a place sends its owner's browser back to. Whatever goes wrong is told on the page of destinations. */
  router.get(CALLBACK, async (req, res) => {
    const visitor = await visit(app, req, req.ip ?? 'unknown');
    enforce(right('destinations.manage'), visitor);
    const memberId = visitor?.member?.id ?? '';
    const outcome = await comeBack(app, req.query, memberId);
    res.setHeader('Cache-Control', 'no-store');
    res.redirect(303, `/destinations?${new URLSearchParams(outcome).toString()}`);
  });

  mount(router, app, readPlacements, async ({ params: { accountId } }) => {
    const account = await found(app, accountId);
    const connector = connectorOf(account.kind).accounts!;
    const there = await connector.placements(accountTarget(app, account), app.ask).catch((error: unknown) => {
      throw placeRefusal(account.name, error, 'its placements are not known');
    });
    const known = await store.listDestinations(app.db);
    return {
      placements: there.map((placement) => ({
        ...placement,
        destinationId:
          known.find((one) => one.accountId === accountId && one.placement?.id === placement.id)?.id ?? null,
      })),
    };
  });

  mount(router, app, addPlacement, async ({ params: { accountId }, body }): Promise<Destination> => {
    const account = await found(app, accountId);
    const connector = connectorOf(account.kind);
    const there = await connector
      .accounts!.placements(accountTarget(app, account), app.ask)
      .catch((error: unknown) => {
        throw placeRefusal(account.name, error, 'nothing was added');
      });
    const placement = there.find(({ id }) => id === body.placementId);
    if (!placement) throw notFound('placement');
    if (placement.missing !== null) throw new Refusal('not_ready', placement.missing);
    const { id, kind, name } = placement;
    return app.db.transaction(async (tx) => {
      await store.addDestination(tx, {
        id: body.id,
        name: body.name,
        code: body.code,
        pattern: body.pattern,
        kind: account.kind,
        address: account.address,
        secret: null,
        accountId,
        placement: { id, kind, name },
        pageUrl: null,
        addedAt: app.clock.now(),
      });
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
      return store.describe((await store.findDestination(tx, body.id))!, app.rules.of(account.kind));
    });
  });

  mount(router, app, disconnectAccount, async ({ params: { accountId }, body }) => {
    await found(app, accountId);
    return app.db.transaction(async (tx) => {
      for (const { id, name, accountId: of } of await store.listDestinations(tx)) {
        if (of === accountId && (await isSendingTo(tx, id)))
          throw new Refusal('not_ready', `A show is being sent to ${name} just now. End its feed first.`);
      }
      const shows = await accounts.showsOfAccount(tx, accountId);
      if (shows.length > 0 && !body.sure) return { done: false, shows };
      await accounts.forgetAccount(tx, accountId, app.clock.now());
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
      return { done: true, shows };
    });
  });
}

async function found(app: App, accountId: string): Promise<accounts.AccountRow> {
  const account = await accounts.findAccount(app.db, accountId);
  if (!account) throw notFound('account');
  return account;
}

/** This house as the browser that asks sees it. */
function ownAddress(app: App, req: Request): string {
  const secure = app.config.https !== null || req.secure;
  return `${secure ? 'https' : 'http'}://${hostOf(req, app.config.trustProxy)}`;
}

type Outcome = { account: string } | { connecting: 'refused' | 'over' | 'failed' | 'other_account' };

/** The owner has decided: the code is exchanged for a lasting token, and the account is kept. */
async function comeBack(app: App, query: unknown, memberId: string): Promise<Outcome> {
  const back = z.object({ state: z.string(), code: z.string().optional() }).safeParse(query);
  if (!back.success) return { connecting: 'over' };
  const { state, code } = back.data;
  const nowMs = app.securityClock.now();
  const begun = await accounts.useConnecting(app.db, hashToken(state), nowMs);
  // Begun by somebody else: their account must not be planted on this member, nor the other way round.
  if (begun?.memberId !== memberId) return { connecting: 'over' };
  if (!code) return { connecting: 'refused' };
  const address = app.config.demoPlaces[begun.kind]?.url;
  const connector = connectorOf(begun.kind).accounts;
  if (!address || !connector) return { connecting: 'failed' };
  try {
    const form = {
      grant_type: 'authorization_code',
      client_id: CLIENT_ID,
      code,
      redirect_uri: begun.redirectUri,
      code_verifier: app.secrets.unlock(begun.verifier, begun.stateHash),
    };
    const given = understood(Given, await app.ask(`${address}/token`, { method: 'POST', form }));
    const newId = randomUUID();
    const target = { id: newId, address, secret: given.refresh_token, placement: null };
    const there = await connector.account(target, app.ask);
    const known = begun.accountId
      ? await accounts.findAccount(app.db, begun.accountId)
      : await accounts.findAccountAt(app.db, begun.kind, there.id);
    // Connecting again means the same account: another one would take over its destinations in silence.
    if (known && known.placeAccountId !== there.id) return { connecting: 'other_account' };
    const [first] = await connector.placements(target, app.ask);
    const id = known?.id ?? newId;
    await app.db.transaction(async (tx) => {
      await accounts.keepAccount(tx, {
        id,
        kind: begun.kind,
        placeAccountId: there.id,
        name: known?.name ?? first?.name ?? there.id,
        address,
        secret: app.secrets.lock(given.refresh_token, id),
        scopes: there.scopes,
        widest: there.widest,
        lostAt: null,
        connectedAt: app.clock.now(),
      });
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
    });
    return { account: id };
  } catch (error) {
    app.log.warn({ err: error, kind: begun.kind }, 'an account could not be connected');
    return { connecting: 'failed' };
  }
}
