import { right } from '@juncta/contract/http';
import type { Member } from '@juncta/contract/team';
import type { Right } from '@juncta/core/team';
import express, { type Request, type Response } from 'express';
import { houseOf, refuseForeign } from '../access/same-site';
import { enforce } from '../access/sessions';
import { visit } from '../access/visits';
import type { App } from '../app';

/** What `mount` looks after, for the few doors through which files pass as they are: limits, same site, session, right. Gives who asks. */
export async function admit(app: App, req: Request, needed: Right): Promise<Member> {
  const visitor = await visit(app, req, req.ip ?? 'unknown');
  if (req.method !== 'GET') refuseForeign(req, houseOf(req, app.config.trustProxy), visitor?.token ?? null);
  enforce(right(needed), visitor);
  return visitor!.member!;
}

/** The file that was sent; empty when none came. Asked for only after {@link admit}; longer ones are not read to their end. */
export function fileOf(req: Request, res: Response, maxBytes: number, tooLong: Error): Promise<Buffer> {
  return new Promise((done, failed) => {
    express.raw({ type: () => true, limit: maxBytes, inflate: false })(req, res, (error?: unknown) => {
      if (error) failed(tooLong);
      else done(Buffer.isBuffer(req.body) ? req.body : Buffer.alloc(0));
    });
  });
}
