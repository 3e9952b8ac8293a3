import type { Series } from '@juncta/contract/shows';
import { slugOf } from '@juncta/core/shows';
import type { Config } from '../config';
import type { SeriesRow } from './store';

/** A series as everybody sees it. */
export function describeSeries({ publicUrl }: Config, { id, name, recurrence }: SeriesRow): Series {
  return { id, name, recurrence, evergreenUrl: `${publicUrl}/next/${slugOf(name, id)}` };
}
