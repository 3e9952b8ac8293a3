import { createHash } from 'node:crypto';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';

interface Written {
  readonly id: string;
  readonly written_at: string;
  readonly author: {
    id: string;
    name: string;
    owner: boolean;
    badges?: string[];
    account_days?: number | null;
  };
  readonly text: string;
  readonly reply_to: string | null;
  readonly kind?: string;
  readonly edited_at?: string | null;
  readonly deleted?: boolean;
}

interface FakeEvent {
  readonly id: string;
  title: string;
  description: string;
  starts_at: string | null;
  settings: Record<string, unknown>;
  readonly reference: string | null;
  state: string;
  readonly messages: Written[];
}

/**
 * A place that has events, their keys and a polled chat, in its own memory and without a picture: what the connector
 * `kitefield` asks for. Specs say what is written there, and what goes wrong.
 */
export class FakeEventPlace {
  readonly events: FakeEvent[] = [];
  /** `POST /v1/events/…`, in their order. */
  readonly heard: string[] = [];
  viewers = 0;
  /** Answers to everything: `down` with 503, `refused` with 401 even to fresh tokens. */
  mood: 'well' | 'down' | 'refused' = 'well';
  /** The longest title, UTF-16 units. */
  titleMax = 96;
  /** Settings that are sent are taken without a word, and nothing is done with them. */
  ignores = false;
  /** Events are made, and the answer is lost on its way. */
  forgetAnswer = false;
  /** So many texts that are written are not taken: it is out of order for a moment. */
  refusesTexts = 0;
  /** So many texts that are written are taken, and the answer is an error. */
  losesAnswers = 0;
  takesPictures = true;
  /** Nothing can be deleted. */
  keepsEvents = false;
  /** Every answer takes so long. */
  answerAfterMs = 0;
  /** Codes that its owner gave, by which the challenge of each is known. */
  readonly codes = new Map<string, string>();
  account = 'millrace';
  placements: object[] = [{ id: 'channel', kind: 'channel', name: 'The school', missing: null }];
  private server: Server | undefined;
  private seq = 0;

  get url(): string {
    return `http://127.0.0.1:${(this.server!.address() as AddressInfo).port}`;
  }

  async open(): Promise<this> {
    this.server = createServer((req, res) => {
      void bodyOf(req).then(async (body) => {
        if (this.answerAfterMs > 0) await new Promise((later) => setTimeout(later, this.answerAfterMs));
        this.heard.push(`${req.method} ${req.url}`);
        if (this.chatFaults.hangs > 0 && /chat(\?|$)/.test(req.url!) && this.chatFaults.hangs-- > 0) return;
        const [status, answer] =
          this.mood === 'down'
            ? [503, {}]
            : this.mood === 'refused'
              ? [401, { message: 'The authorisation was taken back.' }]
              : this.answer(req.method!, new URL(req.url!, 'http://place'), body);
        const headers = {
          'Content-Type': 'application/json',
          ...(status === 429 ? { 'Retry-After': '1' } : {}),
        };
        res.writeHead(status, headers).end(JSON.stringify(answer));
      });
    });
    await new Promise<void>((done) => this.server!.listen(0, '127.0.0.1', done));
    return this;
  }

  async close(): Promise<void> {
    await new Promise((done) => {
      this.server!.close(done);
      this.server!.closeAllConnections();
    });
  }

  /** Somebody writes at the newest event. */
  write(text: string, author = 'Ottoline', writtenAtMs = Date.now()): Written {
    return this.add({ id: author, name: author, owner: false }, text, null, writtenAtMs);
  }

  /** The place tells of a message, or of a change of one, whatever is in it. */
  tell(written: Partial<Written> & Pick<Written, 'text'>): Written {
    const before = this.events.at(-1)!.messages.find(({ id }) => id === written.id);
    const author = { id: 'Ottoline', name: 'Ottoline', owner: false };
    const fresh = { id: `m${++this.seq}`, written_at: new Date().toISOString(), author, reply_to: null };
    const told = { ...fresh, ...before, ...written };
    this.events.at(-1)!.messages.push(told);
    return told;
  }

  /** Somebody makes an event by hand. Gives its id. */
  make(values: Pick<FakeEvent, 'title' | 'starts_at'>): string {
    const id = `ev${this.events.length + 1}`;
    this.events.push({
      ...values,
      id,
      description: '',
      settings: {},
      reference: null,
      state: 'booked',
      messages: [],
    });
    return id;
  }

  /** What viewers there pressed so far. */
  reactions: Record<string, number> = {};
  /** Misfortune of its chat, each for the next answers of that many. */
  readonly chatFaults = { hangs: 0, repeats: 0, losesCursor: 0, quota: 0, breaks: 0, garbles: 0 };

  /** Messages that viewers there do not see. */
  readonly hidden = new Set<string>();
  readonly banned = new Set<string>();
  slowS = 0;

  private add(author: Written['author'], text: string, replyTo: string | null, atMs: number): Written {
    const id = `m${++this.seq}`;
    const written = { id, written_at: new Date(atMs).toISOString(), author, text, reply_to: replyTo };
    this.events.at(-1)!.messages.push(written);
    return written;
  }

  private answer(method: string, { pathname, searchParams }: URL, body: never): [number, object] {
    if (pathname === '/token') return this.token(body);
    if (pathname === '/v1/account') return [200, { id: this.account, scopes: ['events'], widest: null }];
    if (pathname === '/v1/placements') return [200, { placements: this.placements }];
    const [, , , id, what] = pathname.split('/');
    if (!id && method === 'GET') return [200, { events: this.events.map((one) => this.told(one.id)) }];
    if (!id) {
      const request = body as Pick<
        FakeEvent,
        'title' | 'description' | 'starts_at' | 'settings' | 'reference'
      >;
      if (request.title.length > this.titleMax)
        return [
          422,
          {
            error: 'invalid',
            field: 'title',
            message: `title: at most ${this.titleMax}`,
            limit: this.titleMax,
          },
        ];
      const same = this.events.find((one) => one.reference === request.reference && one.state === 'booked');
      const event = same ?? { ...request, id: `ev${this.events.length + 1}`, state: 'booked', messages: [] };
      if (!same) this.events.push(event);
      return this.forgetAnswer ? [503, {}] : [200, this.told(event.id)];
    }
    const event = this.events.find((one) => one.id === id);
    if (!event) return [404, { message: 'there is no such event' }];
    if (what === 'ingest') return [200, { address: 'rtmp://ingest.place.example/live', key: `key-${id}` }];
    if (what === 'picture' && !this.takesPictures)
      return [422, { field: 'picture', message: 'not this one' }];
    if (what === 'publish') event.state = 'public';
    if (what === 'end') event.state = 'ended';
    if (what === 'chat-rules') {
      if (method === 'PUT') this.slowS = (body as { slow_s: number }).slow_s;
      return [200, { slow_s: this.slowS }];
    }
    if (what === 'chat' && pathname.includes('/writers/')) {
      const author = decodeURIComponent(pathname.split('/').at(-1)!);
      if ((body as { banned: boolean }).banned) this.banned.add(author);
      else this.banned.delete(author);
      return [200, { banned: [...this.banned] }];
    }
    if (what === 'chat' && method === 'PUT') {
      const written = event.messages.find((one) => pathname.endsWith(`/${one.id}`));
      if (!written) return [404, { message: 'there is no such message' }];
      if ((body as { hidden: boolean }).hidden) this.hidden.add(written.id);
      else this.hidden.delete(written.id);
      return [200, written];
    }
    if (what === 'chat' && method === 'POST') {
      if (this.refusesTexts > 0 && this.refusesTexts-- > 0) return [503, {}];
      const { text, reply_to } = body as { text: string; reply_to: string | null };
      const added = this.add({ id: 'house', name: 'The house', owner: true }, text, reply_to, Date.now());
      return this.losesAnswers > 0 && this.losesAnswers-- > 0 ? [502, {}] : [200, added];
    }
    if (what === 'chat') {
      const faults = this.chatFaults;
      const has = (fault: keyof typeof faults) => faults[fault] > 0 && faults[fault]-- > 0;
      if (has('quota')) return [429, { message: 'the quota of this day is used up' }];
      if (has('breaks')) return [503, {}];
      const wanted = Number(searchParams.get('cursor') ?? 0);
      // It brings once more what it has brought, or everything, as if it had never been asked.
      const from = has('losesCursor') ? 0 : has('repeats') ? Math.max(0, wanted - 7) : wanted;
      if (has('garbles')) return [200, { messages: [{ id: 7, text: null }], cursor: 'soon' }];
      return [
        200,
        {
          messages: event.messages.slice(from),
          reactions: this.reactions,
          cursor: String(event.messages.length),
          poll_after_ms: 20,
          quota: { left: 1_000_000, resets_in_ms: 1000 },
        },
      ];
    }
    if (method === 'DELETE' && this.keepsEvents) return [409, { message: 'not just now' }];
    if (method === 'DELETE') {
      this.events.splice(this.events.indexOf(event), 1);
      return [200, {}];
    }
    if (method === 'PATCH') {
      const { settings, ...text } = body as FakeEvent;
      Object.assign(event, text);
      Object.assign(event.settings, this.ignores ? {} : settings);
    }
    return [200, this.told(id)];
  }

  private token(body: { grant_type?: string; code?: string; code_verifier?: string }): [number, object] {
    const short = { access_token: 'short', expires_in: 600 };
    if (body.grant_type === 'refresh_token') return [200, short];
    if (body.grant_type !== 'authorization_code') return [400, { message: 'no such grant' }];
    // RFC 7636: whoever brings the code has to know what its challenge was made from.
    const challenge = createHash('sha256')
      .update(body.code_verifier ?? '')
      .digest('base64url');
    const good = this.codes.get(body.code ?? '') === challenge;
    this.codes.delete(body.code ?? '');
    return good ? [200, { ...short, refresh_token: 'lasting' }] : [400, { message: 'no such code' }];
  }

  private told(id: string): object {
    const event = this.events.find((one) => one.id === id)!;
    return {
      placement: 'channel',
      ...event,
      messages: undefined,
      page: `/watch/${id}`,
      viewers: this.viewers,
    };
  }
}

async function bodyOf(req: IncomingMessage): Promise<never> {
  let text = '';
  for await (const part of req) text += String(part);
  const type = req.headers['content-type'];
  if (type === 'application/x-www-form-urlencoded')
    return Object.fromEntries(new URLSearchParams(text)) as never;
  // Tokens are asked for with a form, and with nothing else (RFC 6749, 4.1.3 and 6).
  const isJson = type === 'application/json' && req.url !== '/token';
  return JSON.parse((isJson && text) || '{}') as never;
}
