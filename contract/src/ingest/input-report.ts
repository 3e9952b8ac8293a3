import {
  CALL_PROBLEMS,
  INGEST_FINDINGS,
  INGEST_LEVELS,
  INPUT_STATES,
  type ArrivalFigures,
  type IngestFinding,
} from '@juncta/core/ingest';
import { AUDIO_CODECS, VIDEO_CODECS } from '@juncta/core/media/flv';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';

const Figures = z.object({
  video: z.nullable(
    z.object({
      codec: z.enum(VIDEO_CODECS),
      madeFrom: z.nullable(z.enum(VIDEO_CODECS)),
      sequence: z.nullable(
        z.object({
          profileIdc: z.int(),
          levelIdc: z.int(),
          width: z.int(),
          height: z.int(),
          chroma: z.enum(['4:0:0', '4:2:0', '4:2:2', '4:4:4']),
          bitDepth: z.int(),
          isInterlaced: z.boolean(),
        }),
      ),
      isUnreadable: z.boolean(),
      rateHz: z.nullable(z.number()),
      isVariable: z.boolean(),
      keyframeS: z.nullable(z.number()),
      isReordered: z.boolean(),
      kbps: z.int(),
      lateMs: z.int(),
    }),
  ),
  audio: z.nullable(
    z.object({
      codec: z.enum(AUDIO_CODECS),
      rateHz: z.nullable(z.int()),
      channels: z.nullable(z.int()),
      kbps: z.int(),
      isSilent: z.boolean(),
    }),
  ),
  gaps: z.int(),
  jumps: z.int(),
}) satisfies z.ZodMiniType<ArrivalFigures>;

const Finding = z.object({
  code: z.enum(INGEST_FINDINGS),
  level: z.enum(INGEST_LEVELS),
  has: z.nullable(z.union([z.string(), z.number()])),
  wants: z.nullable(z.union([z.string(), z.number()])),
}) satisfies z.ZodMiniType<IngestFinding>;

/** An outside picture as the relay reports it. */
export const InputReport = z.object({
  inputId: Id,
  state: z.enum(INPUT_STATES),
  /** Since when, by the machine that runs the relay. */
  sinceMs: InstantMs,
  /** Whether it came encrypted; null while nothing comes. */
  isSecure: z.nullable(z.boolean()),
  /** When somebody last came with a wrong key; null: nobody did, or it is long ago. */
  knockedAtMs: z.nullable(InstantMs),
  /** Why an encoder that is called does not come; null: it does, or is not called. */
  callProblem: z.nullable(z.enum(CALL_PROBLEMS)),
  /** Null while nothing comes. */
  figures: z.nullable(Figures),
  findings: z.array(Finding),
  /** What has to be made anew; null: it cannot be carried as it comes, or too little of it is known. */
  carriage: z.nullable(z.object({ video: z.boolean(), audio: z.boolean() })),
  /** What it takes of this machine to make its video fit, or will take once it is the programme; null: it fits. */
  cores: z.nullable(z.number()),
  /** A desk receives it as a source of its stage. */
  isOnStage: z.boolean(),
  /** Counts its pictures: another number, another picture. Null: there is none yet. */
  still: z.nullable(z.int()),
});
export type InputReport = z.infer<typeof InputReport>;
