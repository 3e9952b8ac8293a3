import express from 'express';
import { createServer } from 'node:http';
import { WebSocketServer, type WebSocket } from 'ws';

/**
 * Places with nothing but a chat, for the bench: each tells its messages over a WebSocket as the connector `emberplay`
 * asks for, at any rate. They are unreliable on purpose: every few seconds each drops its lines, and tells the last
 * messages before the cursor once more when it is asked again.
 *
 * Environment: PORTS, one for each place, parted by commas.
 */
const DROP_EVERY_MS = 7000;
const TOLD_AGAIN = 100;
const TICK_MS = 20;
const FIRST_ID = 1_000_000;

const WORDS =
  'rye spelt crumb crust oven stone mill levain salt water proof fold bran germ sieve grain steam loaf dough field'.split(
    ' ',
  );
/** Everybody in their own words: no two have more than a few in a row in common. */
const talk = (n: number) =>
  Array.from(
    { length: 9 },
    (_, i) => WORDS[((Math.imul(n + 1, 2654435761 + 40503 * i * i) >>> 8) + i) % WORDS.length]!,
  ).join(' ');

class ChatPlace {
  private readonly told: string[] = [];
  private readonly sockets = new Set<WebSocket>();
  drops = 0;

  constructor(private readonly name: string) {}

  get count(): number {
    return this.told.length;
  }

  follow(socket: WebSocket, after: string | null): void {
    const from = after === null ? 0 : Math.max(0, Number(after) - FIRST_ID + 1 - TOLD_AGAIN);
    for (const text of this.told.slice(from)) socket.send(text);
    this.sockets.add(socket);
    socket.on('error', () => undefined);
    socket.on('close', () => this.sockets.delete(socket));
  }

  write(): void {
    const n = this.told.length;
    const author = `viewer ${(n * 7) % 4000}`;
    const message = {
      id: String(FIRST_ID + n),
      written_at: new Date().toISOString(),
      author: { id: author, name: author, owner: false, badges: [], account_days: null },
      text: talk(n),
      reply_to: null,
    };
    const text = JSON.stringify({ type: 'message', message });
    this.told.push(text);
    for (const socket of this.sockets) socket.send(text);
  }

  drop(): void {
    this.drops += 1;
    for (const socket of this.sockets) socket.terminate();
  }
}

const ports = process.env['PORTS']!.split(',').map(Number);
const places = ports.map((port) => {
  const place = new ChatPlace(`place ${port}`);
  const http = express();
  http.use(express.json());
  http.post('/token', (_req, res) => void res.json({ access_token: 'short', expires_in: 3600 }));
  const server = createServer(http).listen(port, '127.0.0.1');
  const sockets = new WebSocketServer({ server, path: '/v1/chat' });
  sockets.on('connection', (socket, req) =>
    place.follow(socket, new URL(req.url!, 'http://place').searchParams.get('after')),
  );
  return place;
});

process.on('message', ({ perS, seconds }: { perS: number; seconds: number }) => {
  const startedMs = performance.now();
  const all = perS * seconds;
  let written = 0;
  const dropping = setInterval(() => places.forEach((place) => place.drop()), DROP_EVERY_MS);
  const timer = setInterval(() => {
    const due = Math.min(all, Math.floor(((performance.now() - startedMs) / 1000) * perS));
    for (; written < due; written++) places[written % places.length]!.write();
    if (written < all) return;
    clearInterval(timer);
    clearInterval(dropping);
    process.send!({ counts: places.map(({ count }) => count), drops: places.map(({ drops }) => drops) });
  }, TICK_MS);
});
// Whoever started it is gone.
process.on('disconnect', () => process.exit(0));
process.send!('ready');
