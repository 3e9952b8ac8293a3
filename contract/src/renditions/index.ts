import * as z from 'zod/mini';
import { endpoint, Nothing, right } from '../http';
import { EncodingMachine } from '../relay';

/** What may be encoded where the relay runs. */
export const readEncodingMachine = endpoint({
  method: 'GET',
  path: '/api/encoding-machine',
  access: right('shows.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    /** Null: no relay was heard yet. */
    machine: z.nullable(EncodingMachine),
  }),
});
