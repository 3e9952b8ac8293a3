import * as z from 'zod/mini';
import { endpoint, InstantMs, anybody, Nothing } from '../http';

/** The clock as the server has it. A page shows the server's time, not that of the machine it runs on. */
export const ClockReading = z.object({
  nowMs: InstantMs,
  /** Speed; 1 unless this is a rehearsal. */
  rate: z.number(),
  /** Whether somebody could set this clock: true only in a rehearsal or a test. */
  rehearsal: z.boolean(),
});
export type ClockReading = z.infer<typeof ClockReading>;

export const readClock = endpoint({
  method: 'GET',
  path: '/api/clock',
  access: anybody,
  params: Nothing,
  body: Nothing,
  response: ClockReading,
});

/**
 * What the rehearsal clock, a stand-in, answers and takes: `GET /clock`, `PUT /clock`, and `GET /clock/changes`
 * as server-sent events. Same meaning as `ClockSetting` in core.
 */
export const ClockSettingMessage = z.object({
  machineAtMs: z.number(),
  atMs: z.number(),
  rate: z.number().check(z.minimum(0)),
});
