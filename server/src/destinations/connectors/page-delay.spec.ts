import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { placeAsker } from '../ask-place';
import { pageDelayMs } from './page-delay';

describe('how far behind a page is', () => {
  let server: Server;
  let url: string;
  let asked: string[];
  let answer: { status: number; body: string };
  const nowMs = Date.UTC(2027, 4, 20, 19);
  const ask = placeAsker(true, () => nowMs);

  beforeEach(async () => {
    asked = [];
    server = createServer((req, res) => {
      asked.push(req.url!);
      res.writeHead(answer.status).end(answer.body);
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterEach(() => new Promise((done) => server.close(done)));

  const delay = () => pageDelayMs({ id: 't', address: url, secret: '', placement: null }, '/watch/e1/', ask);
  const showing = (ms: number) => JSON.stringify({ live: 'a', showing: new Date(nowMs - ms).toISOString() });

  for (const [what, status, body, wanted] of [
    ['what it shows came in some seconds ago', 200, showing(14_200), 14_200],
    ['its clock is a little ahead', 200, showing(-300), 0],
    ['it stands still', 200, showing(600_000), null],
    ['it shows nothing yet', 200, '{"showing":null}', null],
    ['it does not say', 200, '{"live":"a"}', null],
    ['it says nonsense', 200, '{"showing":"soon"}', null],
    ['it is gone', 404, '{}', null],
  ] as const) {
    it(`${wanted === null ? 'is not known' : `is ${wanted} ms`} when ${what}`, async () => {
      answer = { status, body };
      expect(await delay()).toBe(wanted);
      expect(asked[0]).toBe('/watch/e1/state');
    });
  }
});
