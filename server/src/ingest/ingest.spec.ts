import {
  bookInput,
  putInput,
  readInputs,
  removeInput,
  renewInputKey,
  stillPath,
  takeInput,
  watchInputs,
} from '@juncta/contract/ingest';
import { addDestination, setShowDestinations } from '@juncta/contract/destinations';
import { setPictureFormat } from '@juncta/contract/programme';
import type { InputsRequest } from '@juncta/contract/relay';
import { createShow } from '@juncta/contract/shows';
import { readStage } from '@juncta/contract/stage';
import { createHash, randomUUID } from 'node:crypto';
import pg from 'pg';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, showText, type House } from '../testing/house';
import { inputReport as here } from '../testing/input-report';
import { readTicket } from '../testing/ticket';
import { until } from '../testing/until';

describe('outside pictures of a show', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({ relay: relay.reached });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });
  beforeEach(async () => {
    showId = randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    relay.heard.length = 0;
  });

  const params = () => ({ showId });
  const settings = { name: 'Hall camera', transport: 'rtmp', second: 'refused', onArrival: 'waits' } as const;
  const add = async (inputId: string = randomUUID(), change: object = {}) => {
    const { inputs } = await house.as.host.get(putInput, {
      params: { showId, inputId },
      body: { ...settings, ...change },
    });
    return inputs.find(({ id }) => id === inputId)!;
  };
  const booked = () =>
    JSON.parse(relay.heard.findLast((one) => one.startsWith('PUT inputs'))!.slice(11)) as InputsRequest;
  it('have an address and a key of their own, of which the relay learns only a hash', async () => {
    const [one, other] = [await add(), await add()];
    expect(one.address).toBe(`rtmp://127.0.0.1:4712/in/${one.id}`);
    expect(one.secureAddress).toBeNull();
    expect(one.key).toMatch(/^[\w-]{27}$/);
    expect(other.key).not.toBe(one.key);
    const { inputs, wants } = booked();
    expect(inputs.map(({ keyHash }) => keyHash)).toEqual(
      [one, other].map(({ key }) => createHash('sha256').update(key).digest('hex')),
    );
    expect(wants).toEqual(jasmine.objectContaining({ width: 1280, height: 720, rateHz: 30, mostKbps: 4000 }));
    expect(JSON.stringify(relay.heard)).not.toContain(one.key);
    const client = new pg.Client(house.database.url);
    await client.connect();
    const { rows } = await client.query<Record<string, unknown>>('select * from ingest_input');
    await client.end();
    expect(JSON.stringify(rows)).not.toContain(one.key);
  });

  it('are changed under the same id and key, and their key is renewed alone', async () => {
    const one = await add();
    const changed = await add(one.id, { name: 'Balcony', second: 'takes_over', onArrival: 'is_taken' });
    expect(changed).toEqual({ ...one, name: 'Balcony', second: 'takes_over', onArrival: 'is_taken' });
    const { inputs } = await house.as.host.get(renewInputKey, { params: { showId, inputId: one.id } });
    expect(inputs[0]!.key).not.toBe(one.key);
    expect({ ...inputs[0], key: '' }).toEqual({ ...changed, key: '' });
    expect(booked().inputs[0]!.keyHash).toBe(createHash('sha256').update(inputs[0]!.key).digest('hex'));
  });

  it('are for those who may run the show, and bounded', async () => {
    await house.as.moderator.refused(readInputs, { params: params() });
    await house.as.moderator.refused(putInput, { params: { showId, inputId: randomUUID() }, body: settings });
    for (let i = 0; i < 8; i++) await add();
    const refusal = await house.as.host.refused(putInput, {
      params: { showId, inputId: randomUUID() },
      body: settings,
    });
    expect(refusal.sentence).toContain('at most 8 inputs');
    const blank = await house.as.host.refused(putInput, {
      params: { showId, inputId: randomUUID() },
      body: { ...settings, name: ' ' },
    });
    expect(blank.fields?.map(({ field }) => field)).toEqual(['name']);
  });

  it('become the programme when they are here and fit, and not before', async () => {
    const { id } = await add();
    const take = { params: params(), body: { inputId: id } };
    expect((await house.as.host.refused(takeInput, take)).sentence).toContain(
      'Nothing comes from “Hall camera”',
    );
    relay.change(showId, { inputs: [here(id, { carriage: null })] });
    expect((await house.as.host.refused(takeInput, take)).sentence).toContain('still being looked at');
    const block = { code: 'codec_not_taken', level: 'block', has: 'h265', wants: 'h264' } as const;
    relay.change(showId, { inputs: [here(id, { carriage: null, findings: [block] })] });
    expect((await house.as.host.refused(takeInput, take)).sentence).toContain('cannot be shown as it comes');
    expect(relay.heard.some((one) => one.startsWith('POST input'))).toBeFalse();
    relay.change(showId, { inputs: [here(id)] });
    expect((await house.as.host.get(takeInput, take)).inputId).toBe(id);
    expect(
      (await house.as.host.get(takeInput, { params: params(), body: { inputId: null } })).inputId,
    ).toBeNull();
  });

  it('are at hand on the stage before they arrive, until they are to be so no longer', async () => {
    const outside = async () =>
      (await house.as.host.get(readStage, { params: params() })).known.stage.outside.map(
        ({ inputId }) => inputId,
      );
    const one = await add(randomUUID(), { onArrival: 'joins_stage' });
    const other = await add(randomUUID(), { onArrival: 'joins_stage' });
    expect(await outside()).toEqual([one.id, other.id]);
    await add(one.id, { onArrival: 'waits' });
    expect(await outside())
      .withContext('it stays where it is')
      .toEqual([one.id, other.id]);
    await add(one.id, { onArrival: 'test_only' });
    expect(await outside()).toEqual([other.id]);
    await house.as.host.get(removeInput, { params: { showId, inputId: other.id } });
    expect(await outside()).toEqual([]);
    for (let i = 0; i < 4; i++) await add(randomUUID(), { onArrival: 'joins_stage' });
    const fifth = await house.as.host.refused(putInput, {
      params: { showId, inputId: randomUUID() },
      body: { ...settings, onArrival: 'joins_stage' },
    });
    expect(fifth.sentence).toContain('At most 4');
  });

  it('come by SRT at a port of their own, as many as the house has', async () => {
    const inputs = [];
    for (let i = 0; i < 8; i++) inputs.push(await add(randomUUID(), { transport: 'srt' }));
    expect(inputs.map(({ address }) => address)).toEqual(
      Array.from({ length: 8 }, (_, i) => `srt://127.0.0.1:${4800 + i}`),
    );
    expect(booked().inputs[7]!.srt).toEqual({ port: 4807, passphrase: inputs[7]!.key });
    const otherShow = randomUUID();
    await house.as.producer.get(createShow, { body: { id: otherShow, text: showText() } });
    const ninth = {
      params: { showId: otherShow, inputId: randomUUID() },
      body: { ...settings, transport: 'srt' },
    } as const;
    expect((await house.as.host.refused(putInput, ninth)).sentence).toContain('All 8 ports');
    const back = await add(inputs[3]!.id, { transport: 'rtmp' });
    expect(back.address).toContain('rtmp://');
    expect(booked().inputs[3]!.srt).toBeNull();
    const { inputs: of } = await house.as.host.get(putInput, ninth);
    expect(of[0]!.address).toBe('srt://127.0.0.1:4803');
    // Others of these specs want ports, too.
    for (const { id } of inputs) await house.as.host.get(removeInput, { params: { showId, inputId: id } });
    await house.as.host.get(removeInput, { params: ninth.params });
  });

  it('are called where they listen, with what they want of whoever calls', async () => {
    const inputId = randomUUID();
    const put = (called?: object) =>
      house.as.host.refused(putInput, {
        params: { showId, inputId },
        body: { ...settings, transport: 'srt_called', ...(called ? { called } : {}) } as never,
      });
    for (const [called, field, says] of [
      [undefined, 'called.address', 'is missing'],
      [{ address: 'rtmp://hall.example/live/key', key: '' }, 'called.address', 'begins with srt://'],
      [{ address: 'srt://hall.example', key: '' }, 'called.address', 'names its port'],
      [{ address: 'srt://hall.example:9000', key: 'passphrase=short' }, 'called.key', '10 to 79'],
    ] as const) {
      const { fields } = await put(called);
      expect(fields?.map((one) => one.field)).toEqual([field]);
      expect(fields?.[0]?.sentence).toContain(says);
    }
    const called = { address: 'srt://hall.example:9000', key: 'streamid=hall&passphrase=long-enough-1' };
    const one = await add(inputId, { transport: 'srt_called', called });
    expect([one.address, one.key]).toEqual([called.address, called.key]);
    const again = await add(inputId, { transport: 'srt_called', name: 'Balcony' });
    expect(again).toEqual({ ...one, name: 'Balcony' });
    expect(booked().inputs[0]!.srt).toEqual({ address: called.address, key: called.key });
    const renewed = await house.as.host.refused(renewInputKey, { params: { showId, inputId } });
    expect(renewed.sentence).toContain('where it listens');
    const back = await add(inputId);
    expect(back.key).toMatch(/^[\w-]{27}$/);
    expect(booked().inputs[0]!.srt).toBeNull();
  });

  describe('that stay with the team', () => {
    let other: string;
    beforeEach(async () => {
      other = randomUUID();
      await house.as.producer.get(createShow, { body: { id: other, text: showText({ title: 'The next' }) } });
    });
    const book = (at: string, inputId: string, isBooked = true) =>
      house.as.host.ask(bookInput, { params: { showId: at, inputId }, body: { isBooked } });
    const at = (id: string) => house.as.host.get(readInputs, { params: { showId: id } });

    it('go from one show to another under the same address and key, and are at one only', async () => {
      const one = await add(randomUUID(), { isStanding: true, onArrival: 'joins_stage' });
      expect((await at(other)).standing).toContain(
        jasmine.objectContaining({ id: one.id, bookedTo: { showId, title: showText().title } }),
      );
      relay.heard.length = 0;
      expect((await book(other, one.id)).status).toBe(200);
      expect((await book(other, one.id)).status).toBe(200);
      const orders = relay.heard.filter((text) => text.startsWith('PUT inputs'));
      expect(orders[0]).not.toContain(one.id);
      expect(orders[1]).toContain(one.id);
      expect((await at(other)).inputs).toEqual([one]);
      expect((await at(showId)).inputs).toEqual([]);
      const stageOf = async (id: string) =>
        (await house.as.host.get(readStage, { params: { showId: id } })).known.stage.outside.length;
      expect([await stageOf(showId), await stageOf(other)]).toEqual([0, 1]);
      await book(other, one.id, false);
      expect((await at(other)).standing).toContain(jasmine.objectContaining({ id: one.id, bookedTo: null }));
      expect((await book(other, one.id, false)).status).toBe(404);
      expect((await book(showId, one.id)).status).toBe(200);
      expect((await at(showId)).inputs.map(({ key }) => key)).toEqual([one.key]);
    });

    it('do not leave a running show whose programme they are; others do not move at all', async () => {
      const one = await add(randomUUID(), { isStanding: true });
      const fixed = await add();
      expect((await book(other, fixed.id)).status).toBe(404);
      expect((await book(randomUUID(), one.id)).status).toBe(404);
      relay.change(showId, { inputs: [here(one.id)] });
      await house.as.host.get(takeInput, { params: params(), body: { inputId: one.id } });
      relay.change(showId, { runId: randomUUID() });
      await until(
        'the server knows that it runs',
        () => house.server.app.relay!.reportOf(showId)?.runId != null,
      );
      const refusal = await book(other, one.id);
      expect(refusal.status).toBe(409);
      relay.change(showId, { runId: null });
      await until(
        'the server knows that it ended',
        () => house.server.app.relay!.reportOf(showId)?.runId === null,
      );
      expect((await book(other, one.id)).status).toBe(200);
      expect(
        (
          await house.as.moderator.ask(bookInput, {
            params: { showId, inputId: one.id },
            body: { isBooked: true },
          })
        ).status,
      ).toBe(403);
    });
  });

  it('never become the programme when they are only for tests', async () => {
    const { id } = await add(randomUUID(), { onArrival: 'test_only' });
    relay.change(showId, { inputs: [here(id)] });
    const take = { params: params(), body: { inputId: id } };
    expect((await house.as.host.refused(takeInput, take)).sentence).toContain('only for tests');
    await add(id);
    await house.as.host.get(takeInput, take);
    const back = await house.as.host.refused(putInput, {
      params: { showId, inputId: id },
      body: { ...settings, onArrival: 'test_only' },
    });
    expect(back.sentence).toContain('is the programme');
  });

  it('are told to a relay that has forgotten them, with what was the programme', async () => {
    const { id } = await add();
    relay.change(showId, { inputs: [here(id)] });
    await house.as.host.get(takeInput, { params: params(), body: { inputId: id } });
    await relay.restart();
    await until('the relay is told again', () =>
      relay.heard.some((one) => one === `POST input {"inputId":"${id}"}`),
    );
    expect(relay.heard.some((one) => one.startsWith('PUT inputs') && one.includes(id))).toBeTrue();
  });

  it('are measured by what the show wants, as soon as that is something else', async () => {
    await add();
    relay.heard.length = 0;
    await house.as.host.get(setPictureFormat, { params: params(), body: { pictureFormat: '1080p60' } });
    expect(booked().wants).toEqual(jasmine.objectContaining({ height: 1080, rateHz: 60, mostKbps: 9000 }));
    const id = randomUUID();
    const tower = {
      name: 'Tower',
      code: 'TW',
      pattern: 'plain',
      address: 'rtmp://tower.example/live',
    } as const;
    await house.as.producer.get(addDestination, { body: { id, ...tower, key: 'k', pageUrl: '' } });
    // It takes 4.5 Mbit/s, and nothing may be encoded for it.
    relay.machine = { ...relay.machine, cores: 0 };
    relay.change(showId, {});
    await until('the server has heard of it', () => house.server.app.relay!.machine?.cores === 0);
    await house.as.host.get(setPictureFormat, { params: params(), body: { pictureFormat: '1080p30' } });
    await house.as.producer.get(setShowDestinations, { params: params(), body: { destinationIds: [id] } });
    expect(booked().wants.mostKbps).toBeLessThan(4500);
  });

  it('show their last picture to whoever may open the desk', async () => {
    const { id } = await add();
    const seen = await house.as.host.send('GET', stillPath(showId, id));
    expect([seen.status, seen.headers.get('content-type'), await seen.text()]).toEqual([
      200,
      'image/jpeg',
      'jpeg',
    ]);
    expect((await house.as.moderator.send('GET', stillPath(showId, id))).status).toBe(200);
    expect((await house.stranger().send('GET', stillPath(showId, id))).status).toBe(401);
    expect((await house.as.host.send('GET', stillPath(showId, randomUUID()))).status).toBe(404);
  });

  it('can be looked at by whoever may open the desk, with a ticket for that alone', async () => {
    const watcherId = randomUUID();
    const body = { watcherId };
    const { ticket } = await house.as.moderator.get(watchInputs, { params: params(), body });
    expect(readTicket(ticket)).toEqual(jasmine.objectContaining({ showId, deskId: watcherId, may: 'watch' }));
    expect((await house.stranger().ask(watchInputs, { params: params(), body })).status).toBe(401);
    const elsewhere = { params: { showId: randomUUID() }, body };
    expect((await house.as.host.ask(watchInputs, elsewhere)).status).toBe(404);
  });

  it('are gone when they are removed, unless they are what a running show has', async () => {
    const { id } = await add();
    relay.change(showId, { inputs: [here(id)] });
    await house.as.host.get(takeInput, { params: params(), body: { inputId: id } });
    relay.change(showId, { runId: randomUUID() });
    await until('the server knows that it runs', async () => {
      const refused = await house.as.host
        .refused(removeInput, { params: { showId, inputId: id } })
        .catch(() => null);
      return refused !== null;
    });
    await house.as.host.get(takeInput, { params: params(), body: { inputId: null } });
    const { inputs } = await house.as.host.get(removeInput, { params: { showId, inputId: id } });
    expect(inputs).toEqual([]);
    expect(booked().inputs).toEqual([]);
  });
});
