import {
  dropOverlayPage,
  moderate,
  OVERLAY_NAMESPACE,
  readChat,
  readOverlayPages,
  readOverlayState,
  renewOverlayPage,
  sampleOverlayPage,
  setOnProgramme,
  setOverlayPage,
  type OverlayPage,
  type OverlayToClient,
  type OverlayToServer,
  type OverlayView,
} from '@juncta/contract/chat';
import { readDressings, saveDressing } from '@juncta/contract/dressing';
import { endShow } from '@juncta/contract/programme';
import { ALL_SHOWS, createSeries } from '@juncta/contract/shows';
import type { OverlayBox } from '@juncta/core/stage';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { io, type Socket } from 'socket.io-client';
import { setProgrammeTimes } from '../../shows/store';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

type PageSocket = Socket<OverlayToClient, OverlayToServer>;

describe('an overlay page', () => {
  const at = withShowAtPlace({ started: true });
  const scope = { scope: ALL_SHOWS };
  const sockets: PageSocket[] = [];
  beforeEach(() => setOnAir(true));
  afterEach(async () => {
    sockets.splice(0).forEach((socket) => socket.disconnect());
    await at.house.as.producer.get(dropOverlayPage, { params: scope });
    await at.house.as.host.get(endShow, { params: { showId: at.showId } });
    await setOnAir(false);
  });

  /** One show after the other: each spec's own is the one that is on. */
  const setOnAir = (isOn: boolean) =>
    setProgrammeTimes(at.house.server.app.db, at.showId, {
      startedAt: at.house.server.app.clock.now(),
      endedAt: isOn ? null : at.house.server.app.clock.now(),
    });
  const make = (box: Partial<OverlayBox> = { delayS: 0, staysS: null }): Promise<OverlayPage> =>
    at.house.as.producer.get(setOverlayPage, { params: scope, body: { box } });
  const state = () => at.house.as.producer.get(readOverlayState, { params: scope });

  interface Opened {
    readonly socket: PageSocket;
    readonly views: OverlayView[];
    readonly refused: string[];
    readonly ended: () => boolean;
    readonly texts: () => string[];
  }
  /** As a browser would that nobody is signed in with. */
  function open(token: string): Opened {
    const socket: PageSocket = io(`${at.house.url}${OVERLAY_NAMESPACE}`, {
      path: '/api/socket',
      transports: ['websocket'],
      forceNew: true,
      reconnection: false,
      auth: { token },
    });
    sockets.push(socket);
    const views: OverlayView[] = [];
    const refused: string[] = [];
    let isOver = false;
    socket.on('view', (view) => {
      views.push(view);
      socket.emit('shown', view.number);
    });
    socket.on('ended', () => (isOver = true));
    socket.on('connect_error', ({ message }) => refused.push(message));
    const texts = () => views.at(-1)?.lines.map(({ text }) => text) ?? [];
    return { socket, views, refused, ended: () => isOver, texts };
  }

  it('shows what viewers may see, says how late it is, and loses at once what is hidden', async () => {
    const page = open((await make()).token);
    await until('it is open', () => page.views.length > 0);
    at.place.write('How warm is the oven?', 'Ottoline');
    await until('it is seen', () => page.texts().length === 1);
    expect(page.views.at(-1)!.lines).toEqual([
      { author: 'Ottoline', place: 'Kitefield', text: 'How warm is the oven?' },
    ]);
    await until('the delay is known', async () => (await state()).delayMs !== null);
    const { messages } = await at.house.as.moderator.get(readChat, { params: { showId: at.showId } });
    const params = { showId: at.showId };
    const on = { messageId: messages[0]!.id, seconds: null, text: 'How warm?' };
    await at.house.as.moderator.get(setOnProgramme, { params, body: on });
    await until('it is on the programme', () => page.views.at(-1)!.card?.text === 'How warm?');
    await at.house.as.moderator.get(moderate, {
      params: { ...params, messageId: messages[0]!.id },
      body: { act: 'hide' },
    });
    await until('it is gone from both', () => page.texts().length === 0 && !page.views.at(-1)!.card);
  });

  it('looks as its owner says, and as the show is dressed', async () => {
    const { token } = await make();
    const page = open(token);
    await until('there is something', () => page.views.length > 0);
    expect(page.views.at(-1)!.box.ground).toBe('none');
    await make({ ground: 'paper', most: 2 });
    await until('it follows', () => page.views.at(-1)!.box.ground === 'paper');
    expect(page.views.at(-1)!.box).toEqual(jasmine.objectContaining({ most: 2, delayS: 0 }));
    const { team } = await at.house.as.host.get(readDressings);
    const dressing = { ...team.dressing, manner: 'rail' as const };
    const body = { version: team.version, dressing };
    await at.house.as.host.get(saveDressing, { params: scope, body });
    await until('it is dressed anew', () => page.views.at(-1)!.dressing.manner === 'rail');
  });

  it('keeps to its delay, and shows nothing of another destination’s that is left out', async () => {
    const page = open((await make({ delayS: 60, staysS: null })).token);
    at.place.write('soon', 'Ottoline', Date.now() - 30_000);
    at.place.write('now', 'Ottoline', Date.now() - 61_000);
    await until('one is seen', () => page.texts().length === 1);
    expect(page.texts()).toEqual(['now']);
    await make({ leftOut: [at.destinationId] });
    await until('none is', () => page.texts().length === 0);
  });

  it('has an address that is kept locked, stays, and can be renewed: pages at the old one go dark', async () => {
    const { token } = await make();
    const { pages } = await at.house.as.host.get(readOverlayPages);
    expect(pages.map((one) => one.token)).toEqual([token]);
    const rows = await at.house.server.app.connection.pool.query<object>('select * from overlay_page');
    expect(JSON.stringify(rows.rows)).not.toContain(token);
    const page = open(token);
    await until('it is open', () => page.views.length > 0);
    expect((await state()).open).toBe(1);
    const renewed = await at.house.as.producer.get(renewOverlayPage, { params: scope });
    expect(renewed.token).not.toBe(token);
    await until('the old one is told', () => page.ended() && page.socket.disconnected);
    const late = open(token);
    await until('nobody comes in by it', () => late.refused.length > 0);
    expect(late.refused).toEqual(['no_page']);
    const wrong = open('guessed');
    await until('nor by none', () => wrong.refused.length > 0);
    const again = open(renewed.token);
    await until('the new one leads there', () => again.views.length > 0);
  });

  it('tells its owner what is missing, and viewers nothing', async () => {
    const page = open((await make()).token);
    const { name } = { name: 'Harbour' };
    await until('the chat is open', async () => (await state()).unheard.length === 0);
    expect(await state()).toEqual(
      jasmine.objectContaining({
        show: { id: at.showId, title: 'Rye and patience', isOn: true },
        destinations: 1,
      }),
    );
    at.place.mood = 'down';
    await until('the line is lost', async () => (await state()).unheard[0]?.why === 'lost');
    expect((await state()).unheard).toEqual([{ destinationId: at.destinationId, name, why: 'lost' }]);
    expect(page.texts()).toEqual([]);
    at.place.mood = 'well';
  });

  it('shows samples on wish, but never while a show is on', async () => {
    const { token } = await make();
    const ask = () => at.house.as.producer.ask(sampleOverlayPage, { params: scope });
    const page = open(token);
    await until('it is open', () => page.views.length > 0);
    expect(((await ask()).body as { sentence: string }).sentence).toContain('A show is on');
    await setOnAir(false);
    expect((await ask()).status).toBe(200);
    const isSample = () => page.views.at(-1)!.lines[0]?.place === 'Sample';
    await until('they are seen', isSample);
    await setOnAir(true);
    await make({ most: 4 });
    await until('they go as soon as a show begins', () => !isSample());
  });

  it('gives its dressing’s own typefaces to whoever has the address, and no others', async () => {
    const page = open((await make()).token);
    await until('it is open', () => page.views.length > 0);
    const { team } = await at.house.as.host.get(readDressings);
    const file = readFileSync(
      createRequire(import.meta.url).resolve('@fontsource/karla/files/karla-latin-400-normal.woff2'),
    );
    const sent = await at.house.as.host.send('PUT', '/api/dressing-fonts?name=Own', file);
    const face = (await sent.json()) as { id: string; name: string };
    expect(await page.socket.emitWithAck('face', face.id)).toBeNull();
    const dressing = { ...team.dressing, faces: { ...team.dressing.faces, text: face } };
    const body = { version: team.version, dressing };
    await at.house.as.host.get(saveDressing, { params: scope, body });
    await until('it is dressed anew', () => JSON.stringify(page.views.at(-1)).includes(face.id));
    const given = await page.socket.emitWithAck('face', face.id);
    expect(Buffer.from(given!).equals(file)).toBeTrue();
  });

  it('is made by whoever plans, for a series that there is', async () => {
    const put = (role: 'moderator' | 'host', of: string) =>
      at.house.as[role].ask(setOverlayPage, { params: { scope: of }, body: { box: {} } });
    expect((await put('moderator', ALL_SHOWS)).status).toBe(403);
    expect((await put('host', crypto.randomUUID())).status).toBe(404);
    const id = crypto.randomUUID();
    await at.house.as.producer.get(createSeries, { body: { id, name: 'The Proving Hour' } });
    const made = (await put('host', id)).body as OverlayPage;
    expect(made.scope).toBe(id);
    const params = { scope: id };
    expect((await at.house.as.host.get(readOverlayState, { params })).show).toBeNull();
    await at.house.as.host.get(dropOverlayPage, { params });
    expect((await at.house.as.host.refused(readOverlayState, { params })).code).toBe('not_found');
  });
});
