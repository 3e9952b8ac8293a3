import * as z from 'zod/mini';
import { Id } from '../http';

export const ALL_SHOWS = 'team' as const;
/** What something of the house holds for: all shows of the team, or those of one series, by its id. */
export const ShowScope = z.union([z.literal(ALL_SHOWS), Id]);
export type ShowScope = z.infer<typeof ShowScope>;
