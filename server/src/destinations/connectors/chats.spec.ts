import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { until } from '../../testing/until';
import { placeAsker } from '../ask-place';
import type { ChatListener, PlaceMessage } from './connector';
import { WebSocketServer } from 'ws';
import { emberplay } from './emberplay/emberplay';
import { guildroad } from './guildroad/guildroad';
import { porchway } from './porchway/porchway';

/** The chats of places that tell of theirs in a way of their own, over HTTP. */
describe('the chat of', () => {
  let server: Server;
  let url: string;
  let answer: (path: string, res: ServerResponse, lastEventId: string | undefined) => void;
  let arrived: PlaceMessage[];
  let reacted: object[];
  let cursor: string | null;
  let states: string[];
  let stop: AbortController;
  let fails: number;

  const wire = (n: number) => ({
    id: `${1_700_000_000_000_000 + n}`,
    written_at: new Date(n * 1000).toISOString(),
    author: { id: 'ottoline', name: 'Ottoline', owner: false },
    text: `message ${n}`,
    reply_to: null,
  });
  const texts = () => arrived.map(({ text }) => text);
  const listener: ChatListener = {
    messages: (some, at) => {
      if (fails-- > 0) return Promise.reject(new Error('could not be kept'));
      arrived.push(...some);
      cursor = at;
      return Promise.resolve();
    },
    reacted: (totals) => {
      reacted.push(totals);
      return Promise.resolve();
    },
    opened: () => states.push('opened'),
    lost: () => states.push('lost'),
    refused: (why) => states.push(`refused: ${why}`),
  };
  const target = () => ({ id: 't', address: url, secret: 'lasting', placement: null });
  const ask = placeAsker(true, () => 0);

  beforeEach(async () => {
    [arrived, cursor, states, fails] = [[], null, [], 0];
    reacted = [];
    stop = new AbortController();
    server = createServer((req, res) => {
      if (req.url === '/token') res.end(JSON.stringify({ access_token: 'short', expires_in: 600 }));
      else answer(req.url!, res, req.headers['last-event-id'] as string | undefined);
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterEach(async () => {
    stop.abort();
    server.closeAllConnections();
    await new Promise((done) => server.close(done));
  });

  describe('Emberplay', () => {
    it('comes in batches, goes on from where it was after a break, and bears what nobody can read', async () => {
      const sockets = new WebSocketServer({ server });
      const asked: string[] = [];
      sockets.on('connection', (socket, req) => {
        const after = Number(new URL(req.url!, url).searchParams.get('after') ?? 1_700_000_000_000_000);
        asked.push(String(after - 1_700_000_000_000_000));
        const from = after - 1_700_000_000_000_000;
        const send = (n: number) => socket.send(JSON.stringify({ type: 'message', message: wire(n) }));
        for (let n = from + 1; n <= 300; n++) send(n);
        // Nonsense of three kinds, once: a kind we do not know, a message without a text, and no JSON at all.
        if (asked.length > 1) return;
        socket.send('{"type":"weather"}');
        socket.send(JSON.stringify({ type: 'message', message: { ...wire(301), text: null } }));
        socket.send('<html>');
      });
      void emberplay.chat!.follow(target(), null, null, ask, listener, stop.signal);
      await until('all came, over the break', () => states.length >= 3 && arrived.length === 300);
      expect(texts()).toEqual(Array.from({ length: 300 }, (_, i) => `message ${i + 1}`));
      expect(asked[0]).toBe('0');
      expect(states.slice(0, 3)).toEqual(['opened', 'lost', 'opened']);
      expect(cursor).toBe(wire(300).id);
      sockets.close();
    });

    it('is followed again from what is kept when something could not be', async () => {
      fails = 1;
      const sockets = new WebSocketServer({ server });
      sockets.on('connection', (socket, req) => {
        const after = new URL(req.url!, url).searchParams.get('after');
        const from = after === null ? 0 : Number(after) - 1_700_000_000_000_000;
        for (let n = from + 1; n <= 20; n++)
          socket.send(JSON.stringify({ type: 'message', message: wire(n) }));
      });
      void emberplay.chat!.follow(target(), null, null, ask, listener, stop.signal);
      await until('all are kept', () => arrived.length >= 20);
      expect(texts()).toEqual(Array.from({ length: 20 }, (_, i) => `message ${i + 1}`));
      sockets.close();
    });
  });

  describe('Porchway', () => {
    const follow = (from: string | null = null) =>
      porchway.chat!.follow(target(), 'e1', from, ask, listener, stop.signal);
    const send = (res: ServerResponse, n: number) =>
      res.write(`id: ${wire(n).id}\ndata: ${JSON.stringify(wire(n))}\n\n`);

    it('comes as it is written, and after a break from where it was', async () => {
      const asked: (string | undefined)[] = [];
      answer = (path, res, last) => {
        expect(path).toBe('/v1/events/e1/comments');
        asked.push(last);
        res.writeHead(200, { 'Content-Type': 'text/event-stream' });
        if (asked.length === 1) {
          // Cut in the middle of a letter and of a line.
          const bytes = Buffer.from(
            `:\n\nid: ${wire(1).id}\ndata: ${JSON.stringify({ ...wire(1), text: 'Brötchen?' })}\n\n`,
          );
          res.write(bytes.subarray(0, bytes.indexOf('ö') + 1));
          setTimeout(() => {
            res.write(bytes.subarray(bytes.indexOf('ö') + 1));
            res.write('data: not json\n\n');
            setTimeout(() => res.destroy(), 50);
          }, 20);
        } else send(res, 2);
      };
      void follow();
      await until('both have come', () => arrived.length === 2);
      expect(texts()).toEqual(['Brötchen?', 'message 2']);
      expect(asked).toEqual([undefined, wire(1).id]);
      expect(cursor).toBe(wire(2).id);
      expect(states).toEqual(['opened', 'lost', 'opened']);
    });

    it('is not given up for being quiet, and is when it says nothing at all', async () => {
      const patient = placeAsker(true, () => 0, { answerMs: 60, silenceMs: 600 });
      const lines: ServerResponse[] = [];
      answer = (_path, res) => {
        res.writeHead(200, { 'Content-Type': 'text/event-stream' });
        res.flushHeaders();
        lines.push(res);
      };
      void porchway.chat!.follow(target(), 'e1', null, patient, listener, stop.signal);
      await until('it is open', () => states.length === 1);
      // Longer than it may take to answer, and shorter than it may be quiet.
      setTimeout(() => send(lines[0]!, 1), 250);
      await until('it has come', () => arrived.length === 1);
      expect(states).toEqual(['opened']);
      await until('it is asked anew', () => lines.length === 2);
      expect(states).toEqual(['opened', 'lost', 'opened']);
    });

    it('tells what viewers pressed, and is not put off by what is neither', async () => {
      answer = (_path, res) => {
        res.writeHead(200, { 'Content-Type': 'text/event-stream' });
        res.write('event: reactions\ndata: {"reactions":{"heart":3,"moon":2,"clap":-1}}\n\n');
        res.write('event: weather\ndata: {"sunny":true}\n\n');
        send(res, 1);
      };
      void follow();
      await until('it has come', () => arrived.length === 1);
      expect(reacted).toEqual([{ heart: 3, other: 2 }]);
    });

    it('asks once more for what could not be kept', async () => {
      fails = 1;
      answer = (_path, res, last) => {
        res.writeHead(200, { 'Content-Type': 'text/event-stream' });
        if (last === undefined) send(res, 1);
        setTimeout(() => res.destroy(), 50);
      };
      void follow();
      await until('it has come', () => arrived.length === 1);
      expect(cursor).toBe(wire(1).id);
    });

    it('is given up when the place says no, and not when it has troubles', async () => {
      let asked = 0;
      answer = (_path, res) => {
        asked += 1;
        res.writeHead(asked === 1 ? 503 : 403).end('{}');
      };
      await follow();
      expect(states[0]).toBe('lost');
      expect(states[1]).toContain('refused');
    });
  });

  describe('Guildroad', () => {
    const follow = (from: string | null = null) =>
      guildroad.chat!.follow(target(), 'e1', from, ask, listener, stop.signal);

    it('is read page by page, and each message once', async () => {
      const all = Array.from({ length: 45 }, (_, i) => wire(i));
      answer = (path, res) => {
        const page = Number(new URL(path, url).searchParams.get('page'));
        const messages = all.slice((page - 1) * 20, page * 20);
        res.end(JSON.stringify({ page, pages: 3, messages }));
      };
      void follow();
      await until('all have come', () => arrived.length === 45);
      expect(texts()).toEqual(all.map(({ text }) => text));
      expect(cursor).toBe('3');
      // A server that was started anew goes on from there.
      stop.abort();
      stop = new AbortController();
      arrived.length = 0;
      all.push(wire(45));
      void follow(cursor);
      await until('the page has come', () => arrived.length > 0);
      expect(texts()).toEqual(all.slice(40).map(({ text }) => text));
    });

    it('tells what was changed or taken back on the page that is being filled, once', async () => {
      const [first, second, third] = [wire(1), wire(2), wire(3)];
      let now: object[] = [first, second];
      answer = (_path, res) => res.end(JSON.stringify({ page: 1, pages: 1, messages: now }));
      void follow('1 1700000000000001');
      await until('they have come', () => arrived.length === 2);
      now = [
        { ...first, text: 'message one', edited_at: new Date(9000).toISOString() },
        { ...second, text: '', deleted: true },
        third,
      ];
      await until('the changes have come', () => arrived.length >= 5);
      expect(
        arrived.slice(2).map(({ id, text, editedAtMs, deleted }) => [id, text, editedAtMs, deleted]),
      ).toEqual([
        [first.id, 'message one', 9000, false],
        [second.id, '', null, true],
        [third.id, 'message 3', null, false],
      ]);
    });

    it('is waited for while nothing is published yet', async () => {
      answer = (_path, res) => res.writeHead(409).end('{"message":"not published"}');
      void follow();
      await until('it was asked', () => states.length > 0);
      expect(states).toEqual(['opened']);
    });

    it('can only be read', () => expect(guildroad.chat!.write).toBeNull());
  });
});
