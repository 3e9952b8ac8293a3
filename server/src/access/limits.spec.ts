import { readSession, signIn } from '@juncta/contract/team';
import { listShows } from '@juncta/contract/shows';
import { io, type Socket } from 'socket.io-client';
import WebSocket from 'ws';
import type { Client } from '../testing/client';
import { openHouse, type House } from '../testing/house';
import { until } from '../testing/until';
import { REQUESTS_PER_MINUTE } from './rate-limits';

describe('the limits of the doors', () => {
  let house: House;
  const sockets: Socket[] = [];
  beforeAll(async () => (house = await openHouse()));
  afterAll(async () => {
    for (const socket of sockets) socket.disconnect();
    await house.close();
  });
  const connect = (client: Client) => {
    const socket = io(house.url, {
      path: '/api/socket',
      transports: ['websocket'],
      extraHeaders: { Cookie: client.cookieHeader },
      reconnection: false,
      forceNew: true,
    });
    sockets.push(socket);
    return socket;
  };

  it('let a member in while hundreds of sockets are open that nobody signed in at', async () => {
    const url = `${house.url.replace('http', 'ws')}/api/socket/?EIO=4&transport=websocket`;
    const silent = Array.from({ length: 150 }, () => new WebSocket(url).on('error', () => undefined));
    const isClosed = ({ readyState }: WebSocket) => readyState === WebSocket.CLOSED;
    await until('the first are closed to make room', () => silent.some(isClosed));
    const member = connect(house.as.host);
    await until('the member is in', () => member.connected);
    await until('all of them are closed', () => silent.every(isClosed));
    expect(member.connected).toBeTrue();
  }, 30_000);

  it('let go of a socket that asks and asks', async () => {
    const member = connect(house.as.host);
    await until('it is in', () => member.connected);
    let answers = 0;
    for (let i = 0; i < 2000; i++) member.emit('follow', { stream: 'shows', after: 0 }, () => (answers += 1));
    await until('it is let go of', () => !member.connected);
    expect(answers).toBeLessThan(100);
  });

  it('shut out whoever floods from an address, and nobody who is signed in behind it', async () => {
    expect((await house.as.host.ask(readSession)).status).toBe(200);
    const stranger = house.stranger();
    let last = 200;
    for (let sent = 0; last === 200 && sent <= REQUESTS_PER_MINUTE + 100; sent += 100) {
      const replies = await Promise.all(Array.from({ length: 100 }, () => stranger.ask(readSession)));
      last = Math.max(...replies.map(({ status }) => status));
    }
    expect(last).toBe(429);
    expect((await house.as.host.ask(listShows)).status).toBe(200);
    const member = connect(house.as.host);
    await until('its socket is in', () => member.connected);
    const refusal = await stranger.refused(signIn, { body: { email: 'a@house.example', password: 'wrong' } });
    expect(refusal.sentence).toContain('Too many requests came from your address.');
    const anonymous = connect(stranger);
    const why = await new Promise<string>((done) =>
      anonymous.on('connect_error', ({ message }) => done(message)),
    );
    expect(why).toBe('too_many');
  }, 60_000);
});
