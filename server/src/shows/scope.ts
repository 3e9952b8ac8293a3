import { ALL_SHOWS, type ShowScope } from '@juncta/contract/shows';
import type { Queryable } from '../database/connect';
import { notFound } from '../http/errors';
import { findSeries } from './store';

/** Nothing is kept for a series that there is not. */
export async function refuseUnknownScope(db: Queryable, scope: ShowScope): Promise<void> {
  if (scope !== ALL_SHOWS && !(await findSeries(db, scope))) throw notFound('series');
}
