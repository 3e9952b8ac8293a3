import { enterAsGuest, makeGuestLink, revokeGuestLink, type RoomView } from '@juncta/contract/people';
import { createShow, type Show } from '@juncta/contract/shows';
import { io, type Socket } from 'socket.io-client';
import type { Client } from '../../testing/client';
import { openHouse, showText, type House } from '../../testing/house';

describe('the room of a show', () => {
  let house: House;
  let show: Show;
  const personId = crypto.randomUUID();
  const person = { id: personId, memberId: null, name: 'Pascoe', part: 'guest', about: '' } as const;
  const sockets: Socket[] = [];

  beforeAll(async () => {
    house = await openHouse();
    const body = { id: crypto.randomUUID(), text: showText({ people: [person] }) };
    show = await house.as.producer.get(createShow, { body });
  });
  afterEach(() => sockets.splice(0).forEach((socket) => socket.disconnect()));
  afterAll(() => house.close());

  const params = () => ({ showId: show.id, personId });
  async function guest(): Promise<Client> {
    const { token } = await house.as.host.get(makeGuestLink, { params: params() });
    const visitor = house.stranger();
    await visitor.get(enterAsGuest, { body: { token } });
    return visitor;
  }

  /** Connects, and gives the first view, or why there is none. */
  async function enter(
    client: Client | null,
    auth: object,
  ): Promise<{ socket: Socket; said: RoomView | string }> {
    const socket = io(`${house.url}/room`, {
      path: '/api/socket',
      transports: ['websocket'],
      forceNew: true,
      reconnection: false,
      extraHeaders: client ? { Cookie: client.cookieHeader } : {},
      auth,
    });
    sockets.push(socket);
    const said = await new Promise<RoomView | string>((done) => {
      socket.once('room', done);
      socket.once('connect_error', (error) => done(error.message));
    });
    return { socket, said };
  }
  const told = (socket: Socket, what: string) => new Promise((done) => socket.once(what, done));

  it('is closed to whoever has no session, and to a member who names no show', async () => {
    expect((await enter(null, { placeId: crypto.randomUUID() })).said).toBe('signed_out');
    expect((await enter(house.as.host, { placeId: crypto.randomUUID() })).said).toBe('not_understood');
    expect((await enter(house.as.host, { placeId: 'here' })).said).toBe('not_understood');
  });

  it('tells desks and guests who is there, and takes back who left', async () => {
    const desk = await enter(house.as.moderator, { placeId: crypto.randomUUID(), showId: show.id });
    expect(desk.said).toEqual(jasmine.objectContaining({ you: null, people: [], media: false }));
    const came = told(desk.socket, 'room');
    const { socket, said } = await enter(await guest(), { placeId: crypto.randomUUID() });
    expect(said).toEqual(jasmine.objectContaining({ you: personId }));
    const there = { personId, publication: null, sends: { video: false, audio: false }, sign: 'wings' };
    expect(await came).toEqual(jasmine.objectContaining({ people: [there] }));
    const left = told(desk.socket, 'room');
    socket.disconnect();
    expect(await left).toEqual(jasmine.objectContaining({ people: [] }));
  });

  it('lets a link be used in one place at a time: a reload comes back, another place has to mean it', async () => {
    const visitor = await guest();
    const first = crypto.randomUUID();
    const { socket } = await enter(visitor, { placeId: first });
    expect((await enter(visitor, { placeId: crypto.randomUUID() })).said).toBe('elsewhere');
    const gone = told(socket, 'disconnect');
    const reloaded = await enter(visitor, { placeId: first });
    expect(reloaded.said).toEqual(jasmine.objectContaining({ you: personId }));
    await gone;
    const moved = told(reloaded.socket, 'moved');
    expect((await enter(visitor, { placeId: crypto.randomUUID(), takeOver: true })).said).toEqual(
      jasmine.objectContaining({ you: personId }),
    );
    await moved;
  });

  it('puts a guest out at once when their link is taken back', async () => {
    const { socket } = await enter(await guest(), { placeId: crypto.randomUUID() });
    const out = told(socket, 'signed_out');
    await house.as.producer.get(revokeGuestLink, { params: params() });
    await expectAsync(out).toBeResolved();
  });

  it('takes no stage from a guest, and no order that is none', async () => {
    const { socket, said } = await enter(await guest(), { placeId: crypto.randomUUID() });
    socket.emit('stage', { people: [personId] });
    const answer: unknown = await socket.emitWithAck('watch', { publisher: 7 });
    expect(answer).toEqual({ ok: false, problem: 'not_understood' });
    const publish: unknown = await socket.emitWithAck('publish', {
      sdp: 'v=0',
      sends: { video: true, audio: true },
    });
    expect(publish).withContext('without a media server').toEqual({ ok: false, problem: 'media_away' });
    expect((said as RoomView).stage).toEqual([]);
  });
});
