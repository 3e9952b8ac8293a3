import type { PlaceHealth } from '@juncta/contract/feeds';
import * as z from 'zod';

const MOST_WARNINGS = 10;

/**
 * What several places happen to say in the same form of a stream that they receive. One that says nothing, or says it
 * otherwise, is no trouble: null.
 */
export const Health = z
  .object({
    video: z.object({ width: z.int(), height: z.int() }).nullable(),
    framesPerS: z.number(),
    kbps: z.number(),
    keyframeS: z.number().nullable(),
    warnings: z.array(z.string().max(200)).max(MOST_WARNINGS),
  })
  .transform(({ video, framesPerS, kbps, keyframeS, warnings }): PlaceHealth => ({
    ...{ width: video?.width ?? null, height: video?.height ?? null, framesPerS },
    ...{ kbps: Math.round(kbps), keyframeS, warnings },
  }))
  .nullish()
  .catch(null);
