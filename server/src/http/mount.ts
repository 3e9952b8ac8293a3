import type { Body, Endpoint, Params, Response as Answer } from '@juncta/contract/http';
import type { Request, Response, Router } from 'express';
import { enforce, type Visitor } from '../access/sessions';
import { hashToken } from '../access/tokens';
import { visit } from '../access/visits';
import { houseOf, refuseForeign } from '../access/same-site';
import type { App } from '../app';
import { showExists } from '../shows/exists';
import { badInput, notFound } from './errors';
import { fieldErrors } from './sentences';

/** One request, checked: who asks may ask, and what was sent is what the contract says. */
export interface Call<E extends Endpoint> {
  readonly params: Params<E>;
  readonly body: Body<E>;
  /** Null only where the endpoint is public. */
  readonly visitor: Visitor | null;
  /** The member who asks. Throws where the endpoint does not ask for one. */
  readonly memberId: string;
  /** The visitor's network address. */
  readonly address: string;
  readonly req: Request;
  readonly res: Response;
}

/** Every endpoint that was mounted, for the test that walks all doors. */
export const mounted: Endpoint[] = [];

/** Nothing is done, here or at the relay, for a show that does not exist: whatever the endpoint, it is asked here. */
async function refuseUnknownShow(app: App, params: unknown): Promise<void> {
  const { showId } = params as { showId?: string };
  if (showId !== undefined && !(await showExists(app.db, showId))) throw notFound('show');
}

/**
 * Serves an endpoint of the contract. Limits, session, same-site check, access, whether the show exists, and the form of
 * what goes in and out are looked after here, in this order, and nowhere else.
 */
export function mount<E extends Endpoint>(
  router: Router,
  app: App,
  endpoint: E,
  handle: (call: Call<E>) => Promise<Answer<E>>,
): void {
  mounted.push(endpoint);
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete';
  router[method](endpoint.path, async (req, res) => {
    const address = req.ip ?? 'unknown';
    const visitor = await visit(app, req, address);
    if (endpoint.access.kind === 'public' && endpoint.method !== 'GET')
      await app.rateLimits.countPublicDoor(address, visitor && hashToken(visitor.token));
    if (endpoint.method !== 'GET')
      refuseForeign(req, houseOf(req, app.config.trustProxy), visitor?.token ?? null);
    enforce(endpoint.access, visitor);

    const params = endpoint.params.safeParse(req.params);
    // An id that is none cannot exist: the same answer as for one that does not.
    if (!params.success) throw notFound('page');
    await refuseUnknownShow(app, params.data);
    const body = endpoint.body.safeParse(req.body ?? {}, { reportInput: true });
    if (!body.success) throw badInput(fieldErrors(body.error.issues));

    const answer = await handle({
      params: params.data as Params<E>,
      body: body.data as Body<E>,
      visitor,
      get memberId() {
        if (!visitor?.member) throw new Error('this endpoint does not ask for a member');
        return visitor.member.id;
      },
      address,
      req,
      res,
    });
    res.setHeader('Cache-Control', 'no-store');
    // Parsing drops whatever the contract does not name: a column added later cannot slip out.
    res.json(endpoint.response.parse(answer));
  });
}
