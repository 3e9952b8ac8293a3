import { parseRtmpAddress } from '../media/rtmp/address';
import { problemOfKey, readSrtKey, readSrtTarget, writeSrtKey, type SrtProblem } from '../media/srt/address';

export type TargetProblem =
  'empty' | 'not_an_address' | 'wrong_scheme' | 'no_application' | 'key_missing' | 'key_blank' | SrtProblem;

/**
 * A server address and a key, apart from one another; or what is wrong, and in which of the two. The key of an address
 * of SRT is written as `writeSrtKey` does, and can be empty.
 */
export type PastedTarget =
  | { readonly ok: true; readonly address: string; readonly key: string }
  | { readonly ok: false; readonly field: 'address' | 'key'; readonly problem: TargetProblem };

/**
 * Reads what people really paste: the address and the key in two fields, or the whole in one; with blanks around it,
 * with a slash too many, with the scheme of another protocol.
 */
export function readPastedTarget(address: string, key: string): PastedTarget {
  const wrong = (field: 'address' | 'key', problem: TargetProblem): PastedTarget => ({
    ok: false,
    field,
    problem,
  });
  const text = address.trim();
  if (text === '') return wrong('address', 'empty');
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(text)?.[1]?.toLowerCase();
  if (scheme === undefined) return wrong('address', 'not_an_address');
  if (scheme === 'srt') return readSrt(text, key.trim());
  if (scheme !== 'rtmp' && scheme !== 'rtmps') return wrong('address', 'wrong_scheme');
  const path = /^[a-z]+:\/\/[^/]+(\/.*)?$/i.exec(text)?.[1] ?? '';
  if (path.replaceAll('/', '') === '') return wrong('address', 'no_application');
  const givenKey = key.trim();
  if (/\s/.test(givenKey)) return wrong('key', 'key_blank');
  if (givenKey !== '') {
    // The whole in the first field and the key in the second as well.
    const bare = text.endsWith(`/${givenKey}`) ? text.slice(0, -givenKey.length - 1) : text;
    const parsed = parseRtmpAddress(bare);
    return parsed ? { ok: true, address: parsed.tcUrl, key: givenKey } : wrong('address', 'not_an_address');
  }
  const last = text.replace(/\/+$/, '').lastIndexOf('/');
  const parsed = parseRtmpAddress(text.slice(0, last));
  // One word after the host is the application; the key has to come from somewhere else.
  if (!parsed) return wrong('key', 'key_missing');
  return { ok: true, address: parsed.tcUrl, key: text.replace(/\/+$/, '').slice(last + 1) };
}

/** A key of its own field is a stream id, or both as the address's query has them, and goes before the address's. */
function readSrt(text: string, keyText: string): PastedTarget {
  const target = readSrtTarget(text);
  if (!target.ok) return target;
  const given = readSrtKey(keyText);
  const key = {
    streamId: given.streamId || target.key.streamId,
    passphrase: given.passphrase || target.key.passphrase,
  };
  const problem = problemOfKey(key);
  if (problem) return { ok: false, field: 'key', problem };
  return { ok: true, address: target.address.url, key: writeSrtKey(key) };
}
