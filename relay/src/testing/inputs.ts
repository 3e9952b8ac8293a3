import type { InputsRequest } from '@juncta/contract/relay';
import { createHash } from 'node:crypto';

type Booked = InputsRequest['inputs'][number];

/** One input that is opened by this key and waits in preview, of a show with a small picture. */
export function inputsRequest(
  inputId: string,
  key: string,
  change: Partial<Booked> = {},
  wants: Partial<InputsRequest['wants']> = {},
): InputsRequest {
  const keyHash = createHash('sha256').update(key).digest('hex');
  return {
    inputs: [{ inputId, keyHash, second: 'refused', onArrival: 'waits', srt: null, ...change }],
    wants: { width: 320, height: 180, rateHz: 30, leastKbps: 100, mostKbps: 600, ...wants },
  };
}
