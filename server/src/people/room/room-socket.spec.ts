import {
  enterAsGuest,
  makeGuestLink,
  revokeGuestLink,
  type RoomSource,
  type RoomView,
} from '@juncta/contract/people';
import { createShow, type Show } from '@juncta/contract/shows';
import type { Offer } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { io, type Socket } from 'socket.io-client';
import type { Client } from '../../testing/client';
import { openHouse, showText, type House } from '../../testing/house';

describe('the room of a show', () => {
  let house: House;
  let show: Show;
  const personId = crypto.randomUUID();
  const person = { id: personId, memberId: null, name: 'Pascoe', part: 'guest', about: '' } as const;
  const sockets: Socket[] = [];
  const offer = (more: Partial<Offer> = {}): Offer => ({
    source: sourceId('camera', personId),
    video: 'there',
    audio: 'there',
    ...more,
  });

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

  /** The first view from now on of which this holds. */
  async function viewed(socket: Socket, holds: (view: RoomView) => boolean): Promise<RoomView> {
    for (;;) {
      const view = (await told(socket, 'room')) as RoomView;
      if (holds(view)) return view;
    }
  }

  it('is closed to whoever has no session, and to a member who names no show', async () => {
    expect((await enter(null, { placeId: crypto.randomUUID() })).said).toBe('signed_out');
    expect((await enter(house.as.host, { placeId: crypto.randomUUID() })).said).toBe('not_understood');
    expect((await enter(house.as.host, { placeId: 'here' })).said).toBe('not_understood');
  });

  it('tells desks and guests who is there, and takes back who left', async () => {
    const desk = await enter(house.as.moderator, { placeId: crypto.randomUUID(), showId: show.id });
    expect(desk.said).toEqual(jasmine.objectContaining({ you: null, people: [], media: false }));
    const { socket, said } = await enter(await guest(), { placeId: crypto.randomUUID() });
    expect(said).toEqual(jasmine.objectContaining({ you: personId }));
    const offered = viewed(desk.socket, ({ people }) => people.length > 0);
    socket.emit('offers', { offers: [offer()] });
    const there = { ...offer(), publication: null, isAccepted: true };
    expect((await offered).people).toEqual([{ personId, sources: [there], asked: [], sign: 'wings' }]);
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
    socket.emit('stage', { stage: [{ source: offer().source, isSeen: true, isHeard: true }] });
    const answer: unknown = await socket.emitWithAck('watch', { publisher: 7 });
    expect(answer).toEqual({ ok: false, problem: 'not_understood' });
    const publish = (publisher: string) => socket.emitWithAck('publish', { publisher, sdp: 'v=0' });
    expect(await publish(offer().source))
      .withContext('without a media server')
      .toEqual({ ok: false, problem: 'media_away' });
    for (const other of ['programme', `camera:${crypto.randomUUID()}:1`])
      expect(await publish(other)).toEqual({ ok: false, problem: 'not_allowed' });
    expect((said as RoomView).stage).toEqual([]);
  });

  it('has a screen accepted by whoever may run the show, and tells its owner when it is not wanted', async () => {
    const screen = offer({ source: sourceId('screen', personId) });
    const auth = { placeId: crypto.randomUUID(), showId: show.id };
    const desk = await enter(house.as.host, auth);
    const looker = await enter(house.as.moderator, { ...auth, placeId: crypto.randomUUID() });
    const { socket } = await enter(await guest(), { placeId: crypto.randomUUID() });
    const view = (of: Socket, holds: (screen: RoomSource | undefined, asked: readonly string[]) => boolean) =>
      viewed(of, ({ people }) => {
        const there = people.find((one) => one.personId === personId);
        const source = there?.sources.find((one) => one.source === screen.source);
        return there !== undefined && holds(source, there.asked);
      });
    const offered = view(desk.socket, (one) => one?.isAccepted === false);
    socket.emit('offers', { offers: [offer({ audio: 'off' }), screen] });
    await offered;
    const watch = () => desk.socket.emitWithAck('watch', { publisher: screen.source });
    expect(await watch())
      .withContext('before it is accepted')
      .toEqual({ ok: false, problem: 'not_allowed' });
    const accepted = view(socket, (one) => one?.isAccepted === true);
    // Whoever only reads along neither accepts nor asks.
    looker.socket.emit('ask', { personId, what: 'audio' });
    looker.socket.emit('accept', { source: screen.source, isAccepted: false });
    desk.socket.emit('accept', { source: screen.source, isAccepted: true });
    await accepted;
    expect(await watch())
      .withContext('it does not arrive')
      .toEqual({ ok: false, problem: 'not_there' });
    const asked = view(socket, (_, what) => what.join() === 'audio');
    desk.socket.emit('ask', { personId, what: 'audio' });
    await asked;
    const answered = view(desk.socket, (_, what) => what.length === 0);
    socket.emit('decline', { what: 'audio' });
    await answered;
    const declined = told(socket, 'declined');
    desk.socket.emit('accept', { source: screen.source, isAccepted: false });
    expect(await declined).toBe(screen.source);
  });

  it('takes no offer of what is somebody else’s', async () => {
    const desk = await enter(house.as.host, { placeId: crypto.randomUUID(), showId: show.id });
    const { socket } = await enter(await guest(), { placeId: crypto.randomUUID() });
    const offered = viewed(desk.socket, ({ people }) => people.length > 0);
    socket.emit('offers', { offers: [offer({ source: sourceId('camera', crypto.randomUUID()) })] });
    socket.emit('offers', { offers: [offer()] });
    const { people } = await offered;
    expect(people.flatMap(({ sources }) => sources.map(({ source }) => source))).toEqual([offer().source]);
  });
});
