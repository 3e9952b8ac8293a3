import { isAddress, isPublicAddress } from '@juncta/core/destinations';
import { lookup, type LookupAddress } from 'node:dns';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import type { LookupFunction } from 'node:net';
import { WebSocket } from 'ws';
import type * as z from 'zod';
import { createParser } from 'eventsource-parser';

/** The place does not answer, or only with errors of its own. Worth trying again. */
export class PlaceAway extends Error {
  constructor(
    message: string,
    /** It took our whole patience and said nothing. Somebody waits: it is not asked again at once. */
    readonly hung = false,
  ) {
    super(message);
  }
}
/** The place answered no. */
export class PlaceRefused extends Error {
  constructor(
    readonly status: number,
    message: string,
    /** How long it wants to be left alone, s; null: it does not say. */
    readonly retryAfterS: number | null = null,
    /** Which field of what was sent it does not take, and the limit it went over; null: it does not say. */
    readonly wrong: { readonly field: string; readonly limit: number | null } | null = null,
  ) {
    super(message);
  }
}

/** A place's answer in the form that we know; anything else is a trouble of the place's. */
export function understood<T>(schema: z.ZodType<T>, answer: unknown): T {
  const read = schema.safeParse(answer);
  if (read.success) return read.data;
  const [first] = read.error.issues;
  throw new PlaceAway(`what came is not understood: ${first!.path.join('.')} ${first!.message}`);
}

export interface Asking {
  readonly method?: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly headers?: Record<string, string>;
  /** Sent as JSON. */
  readonly body?: unknown;
  /** Sent as a form, in place of a body: what an authorisation server takes (RFC 6749, 4.1.3 and 6). */
  readonly form?: Readonly<Record<string, string>>;
  /** Sent as it is, in place of a body. */
  readonly file?: { readonly bytes: Buffer; readonly type: string };
}

/** Asks a place something and gives its answer, read as JSON. */
export interface AskPlace {
  (url: string, asking?: Asking): Promise<unknown>;
  nowMs(): number;
  /** Opens a WebSocket and hands on its messages. Settles when it closes; throws when it cannot be opened. */
  socket(
    url: string,
    headers: Record<string, string>,
    opened: () => void,
    message: (text: string) => void,
    stopped: AbortSignal,
  ): Promise<void>;
  /**
   * Follows a stream of server-sent events (HTML Living Standard, 9.2) and hands on each with its id. Settles when it
   * ends; throws when it cannot be opened.
   */
  events(
    url: string,
    headers: Record<string, string>,
    opened: () => void,
    event: (data: string, id: string | null) => void,
    stopped: AbortSignal,
  ): Promise<void>;
}

const PATIENCE_MS = 5000;
const MOST_BYTES = 1_000_000;
/** Reads are tried so often in all. What changes something is not repeated by itself. */
const READ_TRIES = 2;

/**
 * @param allowLocal whether places may lie inside the machine's own network
 * @param nowMs the machine's clock: tokens of places run by it
 */
export function placeAsker(
  allowLocal: boolean,
  nowMs: () => number,
  eventPatience: EventPatience = EVENT_PATIENCE,
): AskPlace {
  const ask = async (url: string, asking: Asking = {}): Promise<unknown> => {
    const tries = (asking.method ?? 'GET') === 'GET' ? READ_TRIES : 1;
    for (let left = tries - 1; ; left--) {
      try {
        return await askOnce(url, asking, allowLocal);
      } catch (error) {
        if (left <= 0 || !(error instanceof PlaceAway) || error.hung) throw error;
      }
    }
  };
  const socket: AskPlace['socket'] = (url, headers, opened, message, stopped) =>
    followSocket({ url, headers, opened, message, stopped, allowLocal });
  const events: AskPlace['events'] = (url, headers, opened, event, stopped) =>
    followEvents({ url, headers, opened, event, stopped, allowLocal }, eventPatience);
  return Object.assign(ask, { nowMs, socket, events });
}

/** An address that is written out; names are looked at when they are looked up. */
function refuseInside(url: string): void {
  const { hostname, host } = new URL(url);
  const bare = hostname.replace(/^\[|\]$/g, '');
  if (isAddress(bare) && !isPublicAddress(bare)) {
    throw new PlaceRefused(403, `${host} lies inside this machine’s own network`);
  }
}

/** A socket that says nothing for this long is asked whether it is still there, and given as long to answer. */
const PING_EVERY_MS = 10_000;

interface Following {
  readonly url: string;
  readonly headers: Record<string, string>;
  readonly allowLocal: boolean;
  readonly stopped: AbortSignal;
  readonly opened: () => void;
  readonly message: (text: string) => void;
}

async function followSocket({
  url,
  headers,
  opened,
  message,
  stopped,
  allowLocal,
}: Following): Promise<void> {
  if (!allowLocal) refuseInside(url);
  const { host } = new URL(url);
  await new Promise<void>((done, failed) => {
    const socket = new WebSocket(url, {
      headers,
      handshakeTimeout: PATIENCE_MS,
      maxPayload: MOST_BYTES,
      ...(allowLocal ? {} : { lookup: publicLookup }),
    });
    let answered = true;
    const pinging = setInterval(() => {
      if (socket.readyState !== socket.OPEN) return;
      if (!answered) socket.terminate();
      answered = false;
      socket.ping();
    }, PING_EVERY_MS);
    const stop = () => socket.terminate();
    stopped.addEventListener('abort', stop);
    socket.on('open', opened);
    socket.on('pong', () => (answered = true));
    socket.on('message', (data) => {
      try {
        message((data as Buffer).toString('utf8'));
      } catch (error) {
        // What nobody can read is the place's trouble, and not that of whoever else uses this server.
        failed(error instanceof Error ? error : new PlaceAway(`${host} sent what cannot be read`));
        socket.terminate();
      }
    });
    socket.on('unexpected-response', (req, res) => {
      const status = res.statusCode ?? 0;
      req.destroy();
      failed(
        status >= 500
          ? new PlaceAway(`${host} answered ${status}`)
          : new PlaceRefused(status, `${host} answered ${status}`),
      );
    });
    socket.on('error', (error) => failed(new PlaceAway(`${host}: ${error.message}`)));
    socket.on('close', () => {
      clearInterval(pinging);
      stopped.removeEventListener('abort', stop);
      done();
    });
  });
}

interface EventPatience {
  /** From asking to the place's yes, ms. */
  readonly answerMs: number;
  /** A stream that says nothing for this long is taken to be gone: places send a blank line now and then, ms. */
  readonly silenceMs: number;
}
const EVENT_PATIENCE: EventPatience = { answerMs: PATIENCE_MS, silenceMs: 45_000 };

async function followEvents(
  {
    url,
    headers,
    opened,
    event,
    stopped,
    allowLocal,
  }: Omit<Following, 'message'> & { event: (data: string, id: string | null) => void },
  { answerMs, silenceMs }: EventPatience,
): Promise<void> {
  if (!allowLocal) refuseInside(url);
  const { protocol, host } = new URL(url);
  const request = protocol === 'https:' ? httpsRequest : httpRequest;
  await new Promise<void>((done, failed) => {
    const silent = new AbortController();
    let timer = setTimeout(() => silent.abort(), answerMs);
    const heard = () => {
      clearTimeout(timer);
      timer = setTimeout(() => silent.abort(), silenceMs);
    };
    const signal = AbortSignal.any([stopped, silent.signal]);
    const parser = createParser({
      onEvent: ({ data, id }) => event(data, id ?? null),
      maxBufferSize: MOST_BYTES,
    });
    const over = () => {
      clearTimeout(timer);
      done();
    };
    const req = request(url, {
      headers: { Accept: 'text/event-stream', ...headers },
      signal,
      lookup: allowLocal ? undefined : publicLookup,
    });
    req.on('response', (res) => {
      const status = res.statusCode ?? 0;
      if (status !== 200) {
        res.destroy();
        clearTimeout(timer);
        failed(
          status >= 500
            ? new PlaceAway(`${host} answered ${status}`)
            : new PlaceRefused(status, `${host} answered ${status}`),
        );
        return;
      }
      heard();
      opened();
      res.setEncoding('utf8');
      res.on('data', (text: string) => {
        heard();
        try {
          parser.feed(text);
        } catch (error) {
          res.destroy(error instanceof Error ? error : undefined);
        }
      });
      res.on('error', over);
      res.on('close', over);
    });
    req.on('error', (error) => {
      clearTimeout(timer);
      if (stopped.aborted) done();
      else failed(new PlaceAway(`${host}: ${error.message}`, silent.signal.aborted));
    });
    req.end();
  });
}

/** What is sent, and as what; null: nothing. */
function sentOf({ body, form, file }: Asking): { bytes: Buffer | string; type: string } | null {
  if (file) return file;
  if (form) return { bytes: new URLSearchParams(form).toString(), type: 'application/x-www-form-urlencoded' };
  return body === undefined ? null : { bytes: JSON.stringify(body), type: 'application/json' };
}

function askOnce(
  url: string,
  { method = 'GET', headers = {}, ...asking }: Asking,
  allowLocal: boolean,
): Promise<unknown> {
  const { protocol, host } = new URL(url);
  if (!allowLocal) refuseInside(url);
  const request = protocol === 'https:' ? httpsRequest : httpRequest;
  const sent = sentOf(asking);
  const signal = AbortSignal.timeout(PATIENCE_MS);
  return new Promise((answer, failed) => {
    const req = request(url, {
      method,
      headers: {
        Accept: 'application/json',
        ...(sent ? { 'Content-Type': sent.type } : {}),
        ...headers,
      },
      signal,
      lookup: allowLocal ? undefined : publicLookup,
    });
    req.on('response', (res) => {
      readAnswer(res).then(
        (read) => {
          const status = res.statusCode ?? 0;
          if (status >= 500) failed(new PlaceAway(`${host} answered ${status}`));
          else if (status >= 300) {
            const retryAfterS = Number(res.headers['retry-after']) || null;
            failed(
              new PlaceRefused(
                status,
                saysOf(read) ?? `${host} answered ${status}`,
                retryAfterS,
                wrongOf(read),
              ),
            );
          } else answer(read);
        },
        (error: unknown) =>
          failed(signal.aborted ? new PlaceAway(`${host} did not finish`, true) : asError(error)),
      );
    });
    req.on('error', (error) => failed(new PlaceAway(`${host}: ${error.message}`, signal.aborted)));
    req.end(sent?.bytes);
  });
}

async function readAnswer(res: IncomingMessage): Promise<unknown> {
  const parts: Buffer[] = [];
  let bytes = 0;
  try {
    for await (const part of res) {
      bytes += (part as Buffer).length;
      if (bytes > MOST_BYTES) throw new Error('too long an answer');
      parts.push(part as Buffer);
    }
    return JSON.parse(Buffer.concat(parts).toString('utf8') || 'null');
  } catch (error) {
    res.destroy();
    throw new PlaceAway(
      error instanceof SyntaxError ? 'not JSON' : error instanceof Error ? error.message : 'unread',
    );
  }
}

const asError = (error: unknown) => (error instanceof Error ? error : new PlaceAway(String(error)));

function saysOf(read: unknown): string | null {
  const message = (read as { message?: unknown } | null)?.message;
  return typeof message === 'string' ? message.slice(0, 200) : null;
}

function wrongOf(read: unknown): PlaceRefused['wrong'] {
  const { field, limit } = (read ?? {}) as { field?: unknown; limit?: unknown };
  if (typeof field !== 'string') return null;
  return { field: field.slice(0, 100), limit: typeof limit === 'number' ? limit : null };
}

/** Looks a name up and gives only what lies outside: what is connected to is what was checked. */
const publicLookup: LookupFunction = (hostname, options, done) => {
  lookup(hostname, { ...options, all: true }, (error, found: LookupAddress[]) => {
    if (error) return done(error, '', 0);
    const usable = found.filter(({ address }) => isPublicAddress(address));
    if (usable.length === 0) return done(new Error('lies inside this machine’s own network'), '', 0);
    if (options.all) done(null, usable);
    else done(null, usable[0]!.address, usable[0]!.family);
  });
};
