import { encodePiece, type Piece } from '@juncta/core/relay';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync, appendFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { readSession, SessionStore } from './session-store';
import { TestDesk } from '../testing/desk';
import { bytesOf, makeMedia, piecesOf, type Media } from '../testing/media';
import { until } from '../testing/place';
import { openRig, type Rig } from '../testing/rig';

describe('the pieces’ door', () => {
  let rig: Rig;
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

  it('acknowledges what is on disk, and keeps it once', async () => {
    await welcome();
    const pieces = piecesOf(media, session);
    desk.sendAll(pieces);
    await until('all are acknowledged', () => desk.acknowledged === pieces.length);
    desk.sendAll(pieces.slice(0, 30));
    desk.sendAll([pieces[70]!, pieces[5]!]);
    await until(
      'those too',
      () => desk.answers.filter((answer) => answer.type === 'acknowledged' && answer.number === 6).length > 0,
    );
    const runId = (await rig.report()).runId!;
    const stored = await readSession(path.join(rig.dir, 'shows', rig.showId, runId, 'sessions', session));
    expect(stored.map(({ number }) => number)).toEqual(pieces.map(({ number }) => number));
    expect(Buffer.from(stored[3]!.payload).equals(pieces[3]!.payload)).toBeTrue();
  });

  it('keeps pieces that come out of order', async () => {
    await welcome();
    const pieces = piecesOf(media, session).slice(0, 40);
    desk.sendAll(pieces.slice(20));
    desk.sendAll(pieces.slice(0, 20));
    await until('all are acknowledged', () =>
      desk.answers.some((answer) => answer.type === 'acknowledged' && answer.number === 20),
    );
    expect(desk.refusal).toBeUndefined();
  });

  for (const lane of ['live', 'backlog'] as const) {
    it(`tells on the ${lane} lane how much has come, the last word when nothing more does`, async () => {
      await welcome(undefined, { lane });
      const pieces = piecesOf(media, session);
      const told = () => desk.answers.flatMap((answer) => (answer.type === 'measured' ? [answer.bytes] : []));
      desk.sendAll(pieces.slice(0, 20));
      const first = bytesOf(pieces.slice(0, 20)).length;
      await until('those are told of', () => told().at(-1) === first);
      desk.sendAll(pieces.slice(20, 30));
      desk.sendAll(pieces.slice(30, 40));
      await until('all are told of', () => told().at(-1) === bytesOf(pieces.slice(0, 40)).length);
      expect(told().every((bytes, i) => i === 0 || bytes > told()[i - 1]!)).toBeTrue();
    });
  }

  it('refuses a piece of another session', async () => {
    await welcome();
    desk.sendAll(piecesOf(media, randomUUID()).slice(0, 1));
    await refused('other_session');
    expect(desk.answers.every(({ type }) => type !== 'acknowledged')).toBeTrue();
  });

  it('refuses a hundred megabytes without reading them', async () => {
    await welcome();
    desk.send(Buffer.alloc(100_000_000));
    expect(await until('the line is closed', () => desk.closeCode)).toBe(1009);
    expect((await rig.report()).showId).toBe(rig.showId);
  });

  it('refuses a piece that claims a payload longer than any picture', async () => {
    await welcome();
    const bytes = bytesOf(piecesOf(media, session).slice(0, 1));
    bytes.writeUInt32BE(0x7fff_ffff, 44);
    desk.send(bytes);
    await refused('too_long');
  });

  it('refuses damaged pieces, and keeps those before', async () => {
    await welcome();
    const pieces = piecesOf(media, session);
    const bytes = bytesOf(pieces.slice(0, 3));
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
    ['with one whose time is over', () => rig.ticket({ expiresAtMs: Date.now() - 1 })],
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

  it('refuses another size within a show', async () => {
    await welcome();
    desk.sendAll(piecesOf(media, session).slice(0, 10));
    await until('they are there', () => desk.acknowledged === 10);
    session = randomUUID();
    await welcome(rig.ticket({ epoch: ++epoch }), { width: 640, height: 360 });
    await refused('format_changed');
  });
});

describe('a session on disk', () => {
  const piece = (number: number): Piece => ({
    session: '3f2b8c1e-0d4a-4e7b-9c55-7a1e2f30b6d8',
    number,
    track: 'picture',
    key: true,
    slate: false,
    timeUs: number * 1000,
    durationUs: 1000,
    payload: Uint8Array.of(number),
  });
  let dir: string;
  beforeEach(() => (dir = mkdtempSync(path.join(tmpdir(), 'juncta-session-'))));
  afterEach(() => rmSync(dir, { recursive: true, force: true }));

  it('is read up to where a crash cut it, and goes on after it', async () => {
    const whole = [1, 2, 3].map((number) => Buffer.from(encodePiece(piece(number))));
    writeFileSync(path.join(dir, 'live.jpc'), Buffer.concat(whole).subarray(0, -5));
    expect((await readSession(dir)).map(({ number }) => number)).toEqual([1, 2]);
    const acknowledged: number[] = [];
    const store = await SessionStore.open(dir, () => undefined);
    store.add('live', piece(3), encodePiece(piece(3)), (_lane, number) => acknowledged.push(number));
    await store.close();
    expect((await readSession(dir)).map(({ number }) => number)).toEqual([1, 2, 3]);
    expect(readFileSync(path.join(dir, 'live.jpc')).length).toBe(Buffer.concat(whole).length);
  });

  it('puts both lanes in order', async () => {
    appendFileSync(path.join(dir, 'live.jpc'), Buffer.concat([piece(1), piece(4)].map(encodePiece)));
    appendFileSync(
      path.join(dir, 'backlog.jpc'),
      Buffer.concat([piece(2), piece(3), piece(4)].map(encodePiece)),
    );
    expect((await readSession(dir)).map(({ number }) => number)).toEqual([1, 2, 3, 4]);
  });
});
