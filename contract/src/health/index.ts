import * as z from 'zod/mini';

/** `GET /healthz` of every process: 200 while all parts are up, 503 otherwise. Holds no secret and no address. */
export const Health = z.object({
  process: z.string(),
  up: z.boolean(),
  parts: z.record(z.string(), z.enum(['up', 'down', 'closing'])),
  uptimeS: z.number(),
});
export type Health = z.infer<typeof Health>;
