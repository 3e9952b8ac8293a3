import { TICKET_GRACE_MS } from '@juncta/contract/uplink';
import { encodePacket, type Packet } from '@juncta/core/media/packets';
import { randomUUID } from 'node:crypto';
import { appendFileSync, mkdtempSync, readdirSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { indexSession } from '../recordings/session-reader';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { connect } from 'node:net';
import WebSocket from 'ws';
import { SessionStore } from '../recordings/session-store';
import { storedPackets } from '../testing/stored';
import { TestDesk } from '../testing/desk';
import { bytesOf, makeMedia, packetsOf, type Media } from '../testing/media';
import { until } from '../testing/place';
import { openRig, type InnerRig } from '../testing/rig';

describe('the uplink’s door', () => {
  let rig: InnerRig;
  let media: Media;
  let session: string;
  let desk: TestDesk;
  /** Each desk takes over from the one before. */
  let epoch = 0;
  beforeAll(async () => {
    media = makeMedia(4);
    rig = await openRig();
    await rig.order('PUT', '/run', { runId: randomUUID() });
  }, 30_000);
  afterAll(() => rig.close());
  beforeEach(() => {
    session = randomUUID();
  });
  afterEach(() => desk.kill());

  const welcome = async (ticket = rig.ticket({ epoch: ++epoch }), more = {}) => {
    desk = await TestDesk.open(rig.port, ticket, session, more);
    await until('the relay has answered', () => desk.answers.length > 0);
  };
  const refused = async (code: string) => {
    await until('it is refused', () => desk.refusal);
    expect(desk.refusal).toBe(code);
  };
  /** Where this session's packets are kept. */
  const sessionDir = async () =>
    path.join(rig.dir, 'shows', rig.showId, (await rig.report()).runId!, 'sessions', session);

  it('acknowledges what is on disk, and keeps it once', async () => {
    await welcome();
    const packets = packetsOf(media, session);
    desk.sendAll(packets);
    await until('all are acknowledged', () => desk.acknowledged === packets.length);
    desk.sendAll(packets.slice(0, 30));
    desk.sendAll([packets[70]!, packets[5]!]);
    await until(
      'those too',
      () => desk.answers.filter((answer) => answer.type === 'acknowledged' && answer.number === 6).length > 0,
    );
    const stored = await storedPackets(await sessionDir());
    expect(stored.map(({ number }) => number)).toEqual(packets.map(({ number }) => number));
    expect(Buffer.from(stored[3]!.payload).equals(packets[3]!.payload)).toBeTrue();
  });

  it('keeps packets that come out of order', async () => {
    await welcome();
    const packets = packetsOf(media, session).slice(0, 40);
    desk.sendAll(packets.slice(20));
    desk.sendAll(packets.slice(0, 20));
    await until('all are acknowledged', () =>
      desk.answers.some((answer) => answer.type === 'acknowledged' && answer.number === 20),
    );
    expect(desk.refusal).toBeUndefined();
    const stored = await storedPackets(await sessionDir());
    expect(stored.map(({ number }) => number)).toEqual(packets.map(({ number }) => number));
    expect(stored.every(({ payload }, i) => Buffer.from(payload).equals(packets[i]!.payload))).toBeTrue();
  });

  for (const lane of ['live', 'backlog'] as const) {
    it(`tells on the ${lane} lane how much has come, the last word when nothing more does`, async () => {
      await welcome(undefined, { lane });
      const packets = packetsOf(media, session);
      const told = () => desk.answers.flatMap((answer) => (answer.type === 'measured' ? [answer.bytes] : []));
      desk.sendAll(packets.slice(0, 20));
      const first = bytesOf(packets.slice(0, 20)).length;
      await until('those are told of', () => told().at(-1) === first);
      desk.sendAll(packets.slice(20, 30));
      desk.sendAll(packets.slice(30, 40));
      await until('all are told of', () => told().at(-1) === bytesOf(packets.slice(0, 40)).length);
      expect(told().every((bytes, i) => i === 0 || bytes > told()[i - 1]!)).toBeTrue();
    });
  }

  it('refuses a packet of another session', async () => {
    await welcome();
    desk.sendAll(packetsOf(media, randomUUID()).slice(0, 1));
    await refused('other_session');
    expect(desk.answers.every(({ type }) => type !== 'acknowledged')).toBeTrue();
  });

  it('refuses a hundred megabytes without reading them', async () => {
    await welcome();
    desk.send(Buffer.alloc(100_000_000));
    expect(await until('the line is closed', () => desk.closeCode)).toBe(1009);
    expect((await rig.report()).showId).toBe(rig.showId);
  });

  it('refuses a packet that claims a payload longer than any picture', async () => {
    await welcome();
    const bytes = bytesOf(packetsOf(media, session).slice(0, 1));
    bytes.writeUInt32BE(0x7fff_ffff, 44);
    desk.send(bytes);
    await refused('too_long');
  });

  it('refuses damaged packets, and keeps those before', async () => {
    await welcome();
    const packets = packetsOf(media, session);
    const bytes = bytesOf(packets.slice(0, 3));
    bytes[bytes.length - 10]! ^= 1;
    desk.send(bytes);
    await refused('damaged');
  });

  it('does not understand a greeting without a session', async () => {
    desk = await TestDesk.open(rig.port, rig.ticket(), 'nothing');
    await refused('not_understood');
  });

  for (const [name, ticket] of [
    ['without a ticket', () => 'x'],
    ['with a ticket that somebody else signed', () => `${rig.ticket().split('.')[0]!}.AAAA`],
    ['with one that ran out days ago', () => rig.ticket({ expiresAtMs: Date.now() - TICKET_GRACE_MS - 1 })],
    [
      'with one for another show under our signature',
      () => `${rig.ticket({ showId: randomUUID() }).split('.')[0]!}.${rig.ticket().split('.')[1]!}`,
    ],
  ] as const) {
    it(`lets nobody in ${name}`, async () => {
      desk = await TestDesk.open(rig.port, ticket(), session);
      await refused('ticket');
    });
  }

  describe('with a ticket that has run out', () => {
    /** As the server does: follows the relay's reports. */
    const follow = async () => {
      const following = new AbortController();
      const response = await rig.ask('/control/changes', { signal: following.signal });
      void response.text().catch(() => undefined);
      return following;
    };
    const over = () => rig.ticket({ epoch: ++epoch, expiresAtMs: Date.now() - 1 });

    it('lets a desk in while the server is away, since nobody could renew it, and cuts it once one could', async () => {
      await welcome(over());
      expect(desk.answers[0]).toEqual({ type: 'welcome' });
      const server = await follow();
      await refused('ticket');
      await welcome(over());
      await refused('ticket');
      server.abort();
      await until('the server is not heard', async () => {
        await welcome(over());
        return desk.refusal === undefined;
      });
    }, 20_000);

    it('keeps a desk that renews it, and takes no ticket of another', async () => {
      const deskId = randomUUID();
      const server = await follow();
      epoch += 1;
      await welcome(rig.ticket({ epoch, deskId, expiresAtMs: Date.now() + 1000 }));
      const expiresAtMs = Date.now() + 60_000;
      desk.say({ type: 'renew', ticket: rig.ticket({ epoch, deskId, expiresAtMs }) });
      desk.sendAll(packetsOf(media, session).slice(0, 5));
      await until('what it sends is taken', () => desk.acknowledged === 5);
      // The desks are looked at every 2 s.
      const other = await TestDesk.open(
        rig.port,
        rig.ticket({ epoch, deskId: randomUUID(), expiresAtMs: Date.now() + 500 }),
        randomUUID(),
        { lane: 'backlog' },
      );
      await until('one that does not is cut', () => other.refusal === 'ticket');
      expect(desk.refusal).toBeUndefined();
      desk.say({ type: 'renew', ticket: rig.ticket({ epoch, expiresAtMs }) });
      await refused('ticket');
      server.abort();
    }, 20_000);
  });

  it('cuts every line of whoever may not compose any longer, and lets none of them in', async () => {
    const old = rig.ticket({ epoch: ++epoch });
    await welcome(old);
    const backlog = await TestDesk.open(rig.port, old, session, { lane: 'backlog' });
    await until('both are welcome', () => backlog.answers.length > 0);
    await rig.order('PUT', '/lease', { epoch: ++epoch, isRevoked: true });
    await until('both are cut', () => desk.refusal === 'ticket' && backlog.refusal === 'ticket');
    for (const lane of ['live', 'backlog']) {
      await welcome(old, { lane });
      await refused('ticket');
    }
    await welcome(rig.ticket({ epoch }));
    expect(desk.answers[0]).toEqual({ type: 'welcome' });
  });

  it('lets a desk take over, and tells the one before', async () => {
    await welcome(rig.ticket({ epoch: epoch + 5 }));
    const first = desk;
    await rig.order('PUT', '/lease', { epoch: epoch + 6 });
    await until('the first is told', () => first.refusal === 'taken_over');
    await welcome(rig.ticket({ epoch: epoch + 5 }));
    expect(desk.refusal).toBe('taken_over');
    await welcome(rig.ticket({ epoch: epoch + 6 }));
    expect(desk.answers[0]).toEqual({ type: 'welcome' });
    await until('the relay knows it', async () => (await rig.report()).deskId !== null);
    await rig.order('PUT', '/lease', { epoch: epoch + 6 });
    expect(desk.refusal).toBeUndefined();
    epoch += 6;
  });

  it('lets a desk in while hundreds of sockets are open that say nothing', async () => {
    const url = `ws://127.0.0.1:${rig.port}/uplink`;
    const silent = Array.from({ length: 200 }, () => new WebSocket(url).on('error', () => undefined));
    const raw = Array.from({ length: 100 }, () =>
      connect(rig.port, '127.0.0.1').on('error', () => undefined),
    );
    const open = () => silent.filter(({ readyState }) => readyState === WebSocket.OPEN).length;
    const isOver = () => silent.every(({ readyState }) => readyState === WebSocket.CLOSED);
    await until('they have come', () => open() > 0 || isOver());
    await welcome();
    expect(desk.answers[0]).toEqual({ type: 'welcome' });
    desk.sendAll(packetsOf(media, session).slice(0, 5));
    await until('what it sends is taken', () => desk.acknowledged === 5);
    await until(
      'they are closed, and the desk is not',
      () => isOver() && raw.every(({ destroyed }) => destroyed),
    );
    expect(desk.closeCode).toBeNull();
  }, 20_000);

  it('refuses another size within a show', async () => {
    await welcome();
    desk.sendAll(packetsOf(media, session).slice(0, 10));
    await until('they are there', () => desk.acknowledged === 10);
    session = randomUUID();
    await welcome(rig.ticket({ epoch: ++epoch }), { width: 640, height: 360 });
    await refused('format_changed');
  });
});

describe('a session on disk', () => {
  const packet = (number: number): Packet => ({
    session: '3f2b8c1e-0d4a-4e7b-9c55-7a1e2f30b6d8',
    number,
    track: 'video',
    key: true,
    slate: false,
    timeUs: number * 1000,
    durationUs: 1000,
    payload: Uint8Array.of(number),
  });
  let dir: string;
  beforeEach(() => (dir = mkdtempSync(path.join(tmpdir(), 'juncta-session-'))));
  afterEach(() => rmSync(dir, { recursive: true, force: true }));

  const numbers = async () => (await storedPackets(dir)).map(({ number }) => number);
  const keep = async (...kept: number[]) => {
    const acknowledged: number[] = [];
    const store = await SessionStore.open(dir, () => undefined);
    for (const number of kept)
      store.add('live', packet(number), encodePacket(packet(number)), (_lane, last) =>
        acknowledged.push(last),
      );
    await until('the last is acknowledged', () => acknowledged.at(-1) === kept.at(-1));
    await store.close();
  };

  it('is read up to where a crash cut it, and goes on in a file of the next life', async () => {
    const whole = [1, 2, 3].map((number) => Buffer.from(encodePacket(packet(number))));
    writeFileSync(path.join(dir, 'live.jpc'), Buffer.concat(whole).subarray(0, -5));
    expect(await numbers()).toEqual([1, 2]);
    await keep(2, 3);
    await keep(4);
    expect(await numbers()).toEqual([1, 2, 3, 4]);
    expect(readdirSync(dir).sort()).toEqual(['live-2.jpc', 'live-3.jpc', 'live.jpc']);
  });

  it('acknowledges at once in the next life, however much the last one left', async () => {
    // 3 GB with nothing in it: read as a whole it would be refused, and read at all it would take seconds.
    writeFileSync(path.join(dir, 'live.jpc'), '');
    truncateSync(path.join(dir, 'live.jpc'), 3 * 1024 ** 3);
    await keep(1);
    expect(readdirSync(dir).sort()).toEqual(['live-2.jpc', 'live.jpc']);
  });

  it('loses only the damaged packet', async () => {
    const bytes = Buffer.concat([1, 2, 3, 4].map((number) => encodePacket(packet(number))));
    bytes[60]! ^= 1;
    writeFileSync(path.join(dir, 'live.jpc'), bytes);
    expect(await numbers()).toEqual([1, 3, 4]);
    expect((await indexSession(dir)).damagedBytes).toBe(bytes.length / 4);
  });

  it('is put in order, however often its line broke', async () => {
    const shuffled = [40, 41, 42, 10, 11, 43, 1, 2, 3, 44];
    writeFileSync(
      path.join(dir, 'live.jpc'),
      Buffer.concat(shuffled.map((number) => encodePacket(packet(number)))),
    );
    expect(await numbers()).toEqual([...shuffled].sort((a, b) => a - b));
  });

  it('puts both lanes in order', async () => {
    appendFileSync(path.join(dir, 'live.jpc'), Buffer.concat([packet(1), packet(4)].map(encodePacket)));
    appendFileSync(
      path.join(dir, 'backlog.jpc'),
      Buffer.concat([packet(2), packet(3), packet(4)].map(encodePacket)),
    );
    expect((await storedPackets(dir)).map(({ number }) => number)).toEqual([1, 2, 3, 4]);
  });
});
