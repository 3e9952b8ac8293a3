import type { Input, InputSettings } from '@juncta/contract/ingest';
import { readPastedTarget } from '@juncta/core/destinations';
import { randomBytes } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { App } from '../app';
import { targetSentences } from '../destinations/target-sentences';
import { badInput } from '../http/errors';
import { aboutKey, keyOf } from './book-inputs';
import { ingestAddress } from './ingest-address';
import type { InputRow } from './store';

/** 160 random bits: nobody guesses them, and a person can still copy them by hand. */
const KEY_BYTES = 20;

export const newKey = (): string => randomBytes(KEY_BYTES).toString('base64url');

export function describe(app: App, req: IncomingMessage, row: InputRow): Input {
  const { id, name, transport, second, onArrival, isStanding, calledAddress } = row;
  const { address, secureAddress } =
    calledAddress === null
      ? ingestAddress(app.config, req, row)
      : { address: calledAddress, secureAddress: null };
  const key = keyOf(app, row);
  return { id, name, transport, address, secureAddress, key, second, onArrival, isStanding };
}

/**
 * Where an input is called, if it is, and by which key it opens: its own, or what the encoder that listens wants.
 *
 * @throws Refusal where what was given is no address of SRT
 */
export function opening(
  app: App,
  inputId: string,
  { transport, called }: InputSettings,
  before: InputRow | undefined,
): Pick<InputRow, 'calledAddress' | 'lockedKey'> {
  const lock = (key: string) => app.secrets.lock(key, aboutKey(inputId));
  if (transport !== 'srt_called')
    return {
      calledAddress: null,
      lockedKey: before?.calledAddress === null ? before.lockedKey : lock(newKey()),
    };
  if (!called && before?.calledAddress != null)
    return { calledAddress: before.calledAddress, lockedKey: before.lockedKey };
  const target = readPastedTarget(called?.address ?? '', called?.key ?? '');
  if (target.ok && target.address.startsWith('srt:'))
    return { calledAddress: target.address, lockedKey: lock(target.key) };
  const [field, code] = target.ok
    ? (['address', 'wrong_scheme'] as const)
    : ([target.field, target.problem] as const);
  const sentence =
    code === 'wrong_scheme'
      ? 'An encoder that is called has an address that begins with srt://, as srt://203.0.113.7:9000.'
      : code === 'empty'
        ? 'The address at which the encoder listens is missing, as srt://203.0.113.7:9000.'
        : targetSentences[code];
  throw badInput([{ field: `called.${field}`, code, sentence }]);
}
