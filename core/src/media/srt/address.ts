/**
 * Where an SRT stream goes. What lets it in (stream id and passphrase) stands apart, as its key: see {@link SrtKey}.
 * We call, the place listens; the other ways round are refused, since they would open a door here.
 */
export interface SrtAddress {
  readonly host: string;
  readonly port: number;
  /** How long SRT may take to mend losses, ms. */
  readonly latencyMs: number;
  /** The address as it is shown and kept, without the key. */
  readonly url: string;
}

/** What a place gives beside the address; both can be empty. */
export interface SrtKey {
  /** Names the stream over there (SRT, "Access Control"): up to 512 bytes of UTF-8. */
  readonly streamId: string;
  /** Encrypts the stream: empty, or 10 to 79 characters. */
  readonly passphrase: string;
}

export type SrtProblem =
  | 'not_an_address'
  | 'port_missing'
  | 'mode_not_caller'
  | 'latency_range'
  | 'passphrase_length'
  | 'stream_id_length'
  | 'key_control';

export type SrtTarget =
  | { readonly ok: true; readonly address: SrtAddress; readonly key: SrtKey }
  | { readonly ok: false; readonly field: 'address' | 'key'; readonly problem: SrtProblem };

/** SRT's own default is 120; this is four times a round-trip of 50 ms, what its authors advise. */
export const SRT_LATENCY_MS = 200;
const MOST_LATENCY_MS = 8000;
export const PASSPHRASE_LENGTH = { least: 10, most: 79 } as const;
/** What the handshake's extension has room for (SRT draft, 3.2.1.3). */
const STREAM_ID_MAX_BYTES = 512;

const ADDRESS = /^srt:\/\/(\[[0-9a-f:.]+\]|[^\s/:?#@[\]]+)(?::(\d{1,5}))?\/?(?:\?([^#]*))?$/i;

/** Reads an address of SRT with all that is written behind it, and says what in it cannot be used. */
export function readSrtTarget(text: string): SrtTarget {
  const wrong = (field: 'address' | 'key', problem: SrtProblem): SrtTarget => ({ ok: false, field, problem });
  const found = ADDRESS.exec(text.trim());
  if (!found) return wrong('address', 'not_an_address');
  const port = Number(found[2] ?? 0);
  if (port < 1 || port > 65_535) return wrong('address', 'port_missing');
  const query = new URLSearchParams(found[3] ?? '');
  if ((query.get('mode') ?? 'caller') !== 'caller') return wrong('address', 'mode_not_caller');
  const latencyMs = Number(query.get('latency') ?? SRT_LATENCY_MS);
  if (!Number.isInteger(latencyMs) || latencyMs < 1 || latencyMs > MOST_LATENCY_MS)
    return wrong('address', 'latency_range');
  const key = { streamId: query.get('streamid') ?? '', passphrase: query.get('passphrase') ?? '' };
  const problem = problemOfKey(key);
  if (problem) return wrong('address', problem);
  const shown = query.has('latency') ? `?latency=${latencyMs}` : '';
  const host = found[1]!;
  return {
    ok: true,
    address: {
      host: host.replace(/^\[|\]$/g, ''),
      port,
      latencyMs,
      url: `srt://${host}:${port}${shown}`,
    },
    key,
  };
}

/** The address alone; null when it is none. */
export function parseSrtAddress(text: string): SrtAddress | null {
  const target = readSrtTarget(text);
  return target.ok ? target.address : null;
}

/** What is wrong with a key; null when nothing is. */
export function problemOfKey({ streamId, passphrase }: SrtKey): SrtProblem | null {
  // Each is handed on as a line.
  if (/\p{Cc}/u.test(streamId + passphrase)) return 'key_control';
  if (new TextEncoder().encode(streamId).length > STREAM_ID_MAX_BYTES) return 'stream_id_length';
  const { least, most } = PASSPHRASE_LENGTH;
  return passphrase !== '' && (passphrase.length < least || passphrase.length > most)
    ? 'passphrase_length'
    : null;
}

/** The key as one text, in the form of the address's query; empty when there is nothing in it. */
export function writeSrtKey({ streamId, passphrase }: SrtKey): string {
  const query = new URLSearchParams();
  if (streamId !== '') query.set('streamid', streamId);
  if (passphrase !== '') query.set('passphrase', passphrase);
  return query.toString();
}

/** A text that begins with `streamid=` or `passphrase=` is read as {@link writeSrtKey} wrote it, any other is a stream id. */
export function readSrtKey(text: string): SrtKey {
  if (!/^(streamid|passphrase)=/i.test(text)) return { streamId: text, passphrase: '' };
  const query = new URLSearchParams(text);
  return { streamId: query.get('streamid') ?? '', passphrase: query.get('passphrase') ?? '' };
}
