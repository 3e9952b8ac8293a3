import { DEVICE_FATES, SOURCE_ID_PATTERN, type DeviceFate, type SourceId } from '@juncta/core/stage';
import * as z from 'zod/mini';

export const Source = z.string().check(z.regex(SOURCE_ID_PATTERN)) as unknown as z.ZodMiniType<SourceId>;

export const Fate: z.ZodMiniType<DeviceFate> = z.enum(DEVICE_FATES);
