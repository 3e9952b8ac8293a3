import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';

/** `programme`: what the desk composed, complete; `aired`: what viewers saw. */
export const RECORDING_KINDS = ['programme', 'aired'] as const;
export type RecordingKind = (typeof RECORDING_KINDS)[number];

/** `recording` while the show runs, `finishing` while the file is made, `failed` when that did not work out. */
export const RECORDING_STATES = ['recording', 'paused', 'finishing', 'ready', 'failed'] as const;

export const Recording = z.object({
  runId: Id,
  kind: z.enum(RECORDING_KINDS),
  status: z.enum(RECORDING_STATES),
  /** Null until it is ready. */
  bytes: z.nullable(z.int()),
  /** Show time of its end, ms; null until it is ready. */
  lengthMs: z.nullable(z.int()),
  startedAtMs: InstantMs,
  /** What the disk lost of what it had taken; null: nobody has counted yet. Reports of an earlier version lack it. */
  missing: z._default(
    z.nullable(
      z.object({
        /** Packets of the desk's that are not in the file. */
        packets: z.int(),
        /** How long the picture stands still for it, ms. */
        ms: z.int(),
        /** Bytes of the parts that could not be read; while there are any, the parts are kept. */
        damagedBytes: z.int(),
      }),
    ),
    null,
  ),
});
export type Recording = z.infer<typeof Recording>;
