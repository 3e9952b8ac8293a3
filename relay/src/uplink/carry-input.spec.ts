import type { UplinkAnswer } from '@juncta/contract/uplink';
import { FLV_HEADER } from '@juncta/core/media/flv';
import { randomUUID } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import WebSocket from 'ws';
import { TestDesk } from '../testing/desk';
import { TestEncoder } from '../testing/encoder';
import { inputsRequest } from '../testing/inputs';
import { until } from '../testing/place';
import { longestStep, probe } from '../testing/probe';
import { openRig, type InnerRig } from '../testing/rig';

/** A desk that has outside pictures on its stage gets them as they come. */
describe('an outside picture on its way to a desk', () => {
  let rig: InnerRig;
  const encoders: TestEncoder[] = [];
  const inputId = randomUUID();
  const key = 'a-key-that-nobody-guesses';

  beforeEach(async () => {
    rig = await openRig();
    await book();
  });
  afterEach(async () => {
    for (const encoder of encoders.splice(0)) await encoder.kill();
    await rig.close();
  });

  const book = (change: Parameters<typeof inputsRequest>[2] = {}) =>
    rig.order('PUT', '/inputs', inputsRequest(inputId, key, change));
  const send = () => {
    const url = `rtmp://127.0.0.1:${rig.running.ingestPort}/in/${inputId}/${key}`;
    const encoder = new TestEncoder(url, { keyframes: 15 });
    encoders.push(encoder);
    return encoder;
  };
  async function receive(message: object = {}) {
    const socket = new WebSocket(`ws://127.0.0.1:${rig.port}/uplink`);
    const desk = { socket, answers: [] as UplinkAnswer[], tags: [] as Buffer[], isClosed: false };
    socket.on('message', (data, binary) => {
      if (binary) desk.tags.push(data as Buffer);
      else desk.answers.push(JSON.parse((data as Buffer).toString()) as UplinkAnswer);
    });
    socket.on('close', () => (desk.isClosed = true));
    await new Promise((done) => socket.once('open', done));
    socket.send(JSON.stringify({ type: 'receive', ticket: rig.ticket(), inputId, ...message }));
    return desk;
  }
  const isHere = ({ answers }: Awaited<ReturnType<typeof receive>>, here: boolean) =>
    until(`it is ${here ? '' : 'not '}here`, () => {
      const last = answers.at(-1);
      return last?.type === 'input' && last.isHere === here;
    });

  it('comes from a keyframe on, whole, and again when its encoder is back', async () => {
    const desk = await receive();
    await isHere(desk, false);
    for (const turn of ['first', 'second']) {
      const encoder = send();
      await isHere(desk, true);
      await until(`two seconds came the ${turn} time`, () => desk.tags.length > 150);
      await encoder.kill();
      await isHere(desk, false);
      const file = path.join(rig.dir, `${turn}.flv`);
      writeFileSync(file, Buffer.concat([FLV_HEADER, ...desk.tags.splice(0)]));
      const { videoFrames, audioFrames, streams } = probe(file);
      expect(streams.map(({ codec_name }) => codec_name).sort()).toEqual(['aac', 'h264']);
      expect(videoFrames[0]!.key).toBe(true);
      expect(videoFrames.length).toBeGreaterThan(30);
      expect(longestStep(videoFrames.map(({ at }) => at))).toBeLessThan(0.05);
      expect(audioFrames.length).toBeGreaterThan(40);
    }
    desk.socket.close();
  });

  it('begins at the next keyframe for whoever comes later, and goes on over a ticket that was renewed', async () => {
    send();
    const [first, second] = [await receive(), await receive()];
    await until('it comes to both', () => first.tags.length > 60 && second.tags.length > 60);
    first.socket.send(JSON.stringify({ type: 'renew', ticket: rig.ticket() }));
    await until('the other ticket was not that desk’s', () => first.isClosed);
    expect(first.answers.at(-1)).toEqual(jasmine.objectContaining({ type: 'refused', code: 'ticket' }));
    expect(second.isClosed).toBe(false);
  });

  it('goes to nobody without a ticket of the show, and to nobody once the input is only for tests', async () => {
    const without = await receive({ ticket: 'none' });
    const ofOther = await receive({ ticket: rig.ticket({ showId: randomUUID() }) });
    const known = await receive();
    await isHere(known, false);
    await until('two are refused', () => without.isClosed && ofOther.isClosed);
    const codes = [without, ofOther].map(({ answers }) => answers.map((one) => 'code' in one && one.code));
    expect(codes).toEqual([['ticket'], ['no_input']]);
    await book({ onArrival: 'test_only' });
    await until('it is for nobody', () => known.isClosed);
    expect(known.answers.at(-1)).toEqual(jasmine.objectContaining({ code: 'no_input' }));
  });

  it('comes to a few who only look, for tests or not, and does not count as on the stage', async () => {
    await book({ onArrival: 'test_only' });
    send();
    const watch = () => receive({ ticket: rig.ticket({ may: 'watch', epoch: 0 }) });
    const first = await watch();
    await isHere(first, true);
    await until('it comes', () => first.tags.length > 30);
    expect((await rig.report()).inputs[0]!.isOnStage).toBeFalse();
    for (let i = 1; i < 6; i++) await isHere(await watch(), true);
    const seventh = await watch();
    await until('no more may look', () => seventh.isClosed);
    expect(seventh.answers.at(-1)).toEqual(jasmine.objectContaining({ code: 'too_many' }));
    first.socket.close();
    await until('there is room for another', async () => {
      const next = await watch();
      await until('it is answered', () => next.answers.length > 0);
      return next.answers[0]!.type === 'input';
    });
  });

  it('lets nobody send who may only look', async () => {
    const ticket = rig.ticket({ may: 'watch' });
    const desk = await TestDesk.open(rig.port, ticket, randomUUID());
    await until('it is refused', () => desk.closeCode !== null);
    expect(desk.answers).toEqual([jasmine.objectContaining({ type: 'refused', code: 'ticket' })]);
    const other = await receive({ type: 'measure', ticket });
    await until('nor is its line measured', () => other.isClosed);
  });
});
