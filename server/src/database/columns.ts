import { customType } from 'drizzle-orm/pg-core';

/** An instant, kept as `timestamptz` and told as ms since the epoch, the way everything above speaks of time. */
export const instantMs = customType<{ data: number; driverData: string }>({
  dataType: () => 'timestamp (3) with time zone',
  toDriver: (ms) => new Date(ms).toISOString(),
  fromDriver: (text) => new Date(text).getTime(),
});

/** What a file holds. */
export const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
