import type { ErrorBody } from '@juncta/contract/errors';
import type { BodyInput, Endpoint, Params, Response as Answer } from '@juncta/contract/http';
import { CSRF_COOKIE, CSRF_HEADER, sessionCookie } from '../access/cookies';
import { csrfTokenOf } from '../access/tokens';

export type Reply<T> =
  | { readonly status: 200; readonly body: T; readonly headers: Headers }
  | { readonly status: number; readonly body: ErrorBody; readonly headers: Headers };

interface Sent<E extends Endpoint> {
  params?: Params<E>;
  body?: BodyInput<E>;
  headers?: Record<string, string>;
}

/** A browser as the server sees it: it keeps cookies and sends back the token against forged requests. */
export class Client {
  readonly cookies = new Map<string, string>();

  constructor(readonly base: string) {}

  /** The status and body, whatever they are. */
  async ask<E extends Endpoint>(endpoint: E, sent: Sent<E> = {}): Promise<Reply<Answer<E>>> {
    const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) =>
      encodeURIComponent(String((sent.params as Record<string, unknown>)[name])),
    );
    const response = await fetch(this.base + path, {
      method: endpoint.method,
      headers: {
        'Content-Type': 'application/json',
        Cookie: this.cookieHeader,
        [CSRF_HEADER]: this.cookies.get(CSRF_COOKIE) ?? '',
        ...sent.headers,
      },
      ...(endpoint.method === 'GET' ? {} : { body: JSON.stringify(sent.body ?? {}) }),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [name, value] = cookie.split(';')[0]!.split('=') as [string, string];
      if (value) this.cookies.set(name, value);
      else this.cookies.delete(name);
    }
    return {
      status: response.status,
      body: await response.json(),
      headers: response.headers,
    } as Reply<Answer<E>>;
  }

  /** The body of a success; fails the spec on anything else. */
  async get<E extends Endpoint>(endpoint: E, sent: Sent<E> = {}): Promise<Answer<E>> {
    const reply = await this.ask(endpoint, sent);
    if (reply.status !== 200) {
      throw new Error(`${endpoint.method} ${endpoint.path}: ${reply.status} ${JSON.stringify(reply.body)}`);
    }
    return reply.body as Answer<E>;
  }

  /** The body of a refusal; fails the spec on success. */
  async refused<E extends Endpoint>(endpoint: E, sent: Sent<E> = {}): Promise<ErrorBody> {
    const reply = await this.ask(endpoint, sent);
    if (reply.status === 200) throw new Error(`${endpoint.method} ${endpoint.path} was not refused`);
    return reply.body as ErrorBody;
  }

  /** What is not of the contract: a file, up or down. */
  send(method: string, path: string, file?: Buffer, type = 'application/octet-stream'): Promise<Response> {
    const headers = { Cookie: this.cookieHeader, [CSRF_HEADER]: this.cookies.get(CSRF_COOKIE) ?? '' };
    if (!file) return fetch(this.base + path, { method, headers });
    return fetch(this.base + path, {
      method,
      headers: { ...headers, 'Content-Type': type },
      body: new Uint8Array(file),
    });
  }

  /** Takes a session that was made elsewhere. */
  signInAs(token: string): void {
    this.cookies.set(sessionCookie(false), token);
    this.cookies.set(CSRF_COOKIE, csrfTokenOf(token));
  }

  get cookieHeader(): string {
    return [...this.cookies].map(([name, value]) => `${name}=${value}`).join('; ');
  }

  get signedIn(): boolean {
    return this.cookies.has(sessionCookie(false));
  }
}
