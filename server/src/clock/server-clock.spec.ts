import { setTo, withRate, REAL_SETTING } from '@juncta/core/clock';
import { makeLog } from '@juncta/runtime/log';
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { followRehearsalClock } from './rehearsal-clock';
import { ServerClock } from './server-clock';

const DAY = 86_400_000;

describe('server clock', () => {
  it('is the machine’s until it follows another', () => {
    expect(Math.abs(new ServerClock().now() - Date.now())).toBeLessThan(50);
  });

  it('calls at the due time of the clock, not of the machine', async () => {
    const clock = new ServerClock();
    const due = new Promise<void>((done) => clock.at(clock.now() + 2 * DAY, done));
    clock.adopt(setTo(REAL_SETTING, Date.now(), Date.now() + 2 * DAY));
    await due;
    expect(clock.now()).toBeGreaterThanOrEqual(Date.now() + 2 * DAY - 1000);
  });

  it('calls once, and not what was taken back', async () => {
    const clock = new ServerClock();
    const called: string[] = [];
    const dueAt = clock.now() + DAY;
    clock.at(dueAt, () => called.push('kept'));
    const takeBack = clock.at(dueAt, () => called.push('taken back'));
    takeBack();
    const later = new Promise<void>((done) => clock.at(dueAt + 1, done));
    clock.adopt(withRate(REAL_SETTING, Date.now(), 0));
    clock.adopt(setTo(REAL_SETTING, Date.now(), dueAt + 10));
    await later;
    expect(called).toEqual(['kept']);
  });
});

describe('following the rehearsal clock', () => {
  let server: Server;
  let streams: ServerResponse[];
  let onStream: () => void;
  beforeEach(async () => {
    streams = [];
    server = createServer((_req, res) => {
      res.writeHead(200, { 'Content-Type': 'text/event-stream' });
      streams.push(res);
      onStream();
    });
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  });
  afterEach(() => {
    server.closeAllConnections();
    server.close();
  });

  it('takes over each change, also when it comes in packets, and after the connection was lost', async () => {
    const clock = new ServerClock();
    const { port } = server.address() as AddressInfo;
    let next = new Promise<void>((done) => (onStream = done));
    const stop = followRehearsalClock(`http://127.0.0.1:${port}`, clock, makeLog('test', 'silent'));
    await next;
    const adopted = (atMs: number) => {
      const machineAtMs = Date.now();
      return { setting: { machineAtMs, atMs, rate: 0 }, seen: watch(clock, atMs) };
    };
    const first = adopted(5_000_000);
    const text = `data: ${JSON.stringify(first.setting)}\n\n`;
    streams[0]!.write(text.slice(0, 9));
    streams[0]!.write(text.slice(9));
    await first.seen;
    expect(clock.now()).toBe(5_000_000);

    next = new Promise<void>((done) => (onStream = done));
    streams[0]!.destroy();
    await next;
    const second = adopted(9_000_000);
    streams[1]!.write(`: still here\n\ndata: ${JSON.stringify(second.setting)}\n\n`);
    await second.seen;
    expect(clock.now()).toBe(9_000_000);
    stop();
  });
});

/** Resolves when the clock adopts a setting that shows `atMs`. */
function watch(clock: ServerClock, atMs: number): Promise<void> {
  return new Promise((done) => {
    const adopt = clock.adopt.bind(clock);
    clock.adopt = (setting) => {
      adopt(setting);
      if (setting.atMs === atMs) done();
    };
  });
}
