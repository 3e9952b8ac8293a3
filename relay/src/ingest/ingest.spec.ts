import type { InputReport, ProgrammeReport } from '@juncta/contract/relay';
import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { TestEncoder, type EncoderSettings } from '../testing/encoder';
import { TestDesk } from '../testing/desk';
import { inputsRequest } from '../testing/inputs';
import { makeMedia, packetsOf, slatePackets } from '../testing/media';
import { until } from '../testing/place';
import { makeCertificate } from '../testing/certificate';
import { longestStep, probe, rises } from '../testing/probe';
import { openRig, type InnerRig } from '../testing/rig';

/** Outside encoders, over the network, with real media. */
describe('outside pictures', () => {
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

  const book = (...more: [change?: object, wants?: object]) =>
    rig.order('PUT', '/inputs', inputsRequest(inputId, key, ...more));
  const send = (settings: EncoderSettings = {}, as = key) => {
    const encoder = new TestEncoder(
      `rtmp://127.0.0.1:${rig.running.ingestPort}/in/${inputId}/${as}`,
      settings,
    );
    encoders.push(encoder);
    return encoder;
  };
  const input = async (): Promise<InputReport> => (await rig.report()).inputs[0]!;
  const known = () =>
    until('it is known what comes', async () => {
      const report = await input();
      return report.carriage ? report : null;
    });
  /** Of what is sent; a machine that is taken sends it late, or not at all for a moment. */
  const codesOf = ({ findings }: InputReport) =>
    findings.map(({ code }) => code).filter((code) => code !== 'late' && code !== 'gaps');
  const take = (id: string | null = inputId) => rig.order('POST', '/input', { inputId: id });
  const programme = (state: ProgrammeReport['state']) =>
    until(`the programme is ${state}`, async () => (await rig.report()).state === state);
  const compose = async () => {
    const [media, session] = [makeMedia(30), randomUUID()];
    const line = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => line.answers[0]?.type === 'welcome');
    line.sendAll(slatePackets(media, session, 1));
    line.play(packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 })));
    return line;
  };
  const showTime = (ms: number) =>
    until(`${ms} ms were recorded`, async () => ((await rig.report()).showTimeMs ?? 0) > ms);
  const ended = async (runId: string) => {
    await rig.order('POST', '/end');
    await until(
      'the recording is ready',
      async () =>
        (await rig.report()).recordings.some(({ kind, status }) => kind === 'aired' && status === 'ready'),
      // Made by whatever time is left over.
      80_000,
    );
    return probe(path.join(rig.dir, 'shows', rig.showId, runId, 'aired.mp4'));
  };

  it('arrive in preview, are looked at, and reach nobody before they are taken', async () => {
    expect((await input()).state).toBe('nothing');
    send({ audio: { rateHz: 48_000, channels: 1 } });
    const report = await known();
    expect(report.state).toBe('in_preview');
    expect(report.carriage).toEqual({ video: false, audio: true });
    expect(codesOf(report)).toEqual(['audio_channels']);
    expect(report.figures!.video!.sequence).toEqual(jasmine.objectContaining({ width: 320, height: 180 }));
    expect(report.figures!.video!.rateHz).toBeCloseTo(30, 0);
    expect(report.figures!.audio).toEqual(
      jasmine.objectContaining({ codec: 'aac', rateHz: 48_000, channels: 1 }),
    );
    const still = await rig.ask(`/control/shows/${rig.showId}/still/${inputId}`);
    expect(still.headers.get('content-type')).toBe('image/jpeg');
    expect([...new Uint8Array(await still.arrayBuffer())].slice(0, 3)).toEqual([0xff, 0xd8, 0xff]);
    expect((await rig.report()).state).toBe('waiting');
  });

  it('are looked at and never the programme when they are only for tests', async () => {
    await book({ onArrival: 'test_only' });
    send();
    await known();
    expect((await take()).inputId).toBeNull();
    expect((await input()).state).toBe('in_preview');
  });

  it('are told apart from somebody with a wrong key, who is refused in words', async () => {
    const wrong = send({}, 'another-key');
    await until('somebody knocks', async () => (await input()).state === 'knocking');
    await wrong.ended;
    expect(wrong.says).not.toBe('');
    send();
    await until('it is here', async () => (await input()).state === 'in_preview');
  });

  it('are copied as the programme where they fit, leave to the slate, and come back', async () => {
    const runId = randomUUID();
    const first = send({ audio: { rateHz: 48_000, channels: 2 }, kbps: 300 });
    await known();
    await take();
    await programme('source');
    expect((await input()).state).toBe('as_programme');
    await rig.order('PUT', '/run', { runId });
    // A desk may compose beside it: viewers get nothing of that.
    const line = await compose();
    await showTime(3000);
    await first.kill();
    await programme('slate');
    send({ audio: { rateHz: 48_000, channels: 2 }, kbps: 300 });
    await programme('source');
    await showTime(9000);
    line.kill();
    const file = await ended(runId);
    // Nothing that was composed at a desk belongs to it.
    expect((await rig.report()).recordings.map(({ kind }) => kind)).toEqual(['aired']);
    expect(file.streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac']);
    expect(rises(file.videoFrames.map((frame) => frame.at))).toBeTrue();
    expect(longestStep(file.audioFrames)).toBeLessThan(0.03);
    expect(longestStep(file.videoFrames.map((frame) => frame.at))).toBeLessThan(1.6);
  });

  it('are made to fit where they do not: size, rate, order, keyframes, mono of 44.1 kHz', async () => {
    const runId = randomUUID();
    send({
      size: '480x360',
      rateHz: 48,
      keyframes: 240,
      reordered: true,
      audio: { rateHz: 44_100, channels: 1 },
    });
    const report = await until('keyframes were seen to be far', async () => {
      const one = await input();
      return one.findings.some(({ code }) => code === 'keyframes_far') ? one : null;
    });
    expect(report.carriage).toEqual({ video: true, audio: true });
    expect(codesOf(report)).toEqual([
      'keyframes_far',
      'size',
      'rate_high',
      'reordered',
      'audio_rate',
      'audio_channels',
    ]);
    await take();
    await programme('source');
    await rig.order('PUT', '/run', { runId });
    await showTime(6000);
    const file = await ended(runId);
    expect(file.streams).toEqual([
      jasmine.objectContaining({ codec_name: 'h264', width: 320, height: 180 }),
      jasmine.objectContaining({ codec_name: 'aac', sample_rate: '48000' }),
    ]);
    const keys = file.videoFrames.filter(({ key: isKey }) => isKey).map(({ at }) => at);
    expect(longestStep(keys)).toBeLessThan(2.1);
    const rate = (file.videoFrames.length - 1) / (file.videoFrames.at(-1)!.at - file.videoFrames[0]!.at);
    expect(rate).toBeGreaterThan(28);
    expect(rate).toBeLessThan(31);
    expect(longestStep(file.audioFrames)).toBeLessThan(0.03);
  });

  it('give way to the desk and take over from it by a cut, without the slate', async () => {
    const line = await compose();
    await programme('source');
    const runId = randomUUID();
    await rig.order('PUT', '/run', { runId });
    send({ kbps: 300 });
    await known();
    const states = new Set<string>();
    const watching = setInterval(() => void rig.report().then(({ state }) => states.add(state)), 50);
    await take();
    await until('it is the programme', async () => (await input()).state === 'as_programme');
    await showTime(6000);
    await take(null);
    await until('it is in preview again', async () => (await input()).state === 'in_preview');
    await showTime(8000);
    clearInterval(watching);
    expect([...states]).toEqual(['source']);
    line.kill();
    const file = await ended(runId);
    expect(longestStep(file.audioFrames)).toBeLessThan(0.03);
    expect(rises(file.videoFrames.map((frame) => frame.at))).toBeTrue();
  });

  it('come from one encoder at a time: a second is refused, or takes over where that was chosen', async () => {
    send();
    await known();
    const second = send();
    await second.ended;
    expect((await input()).state).toBe('in_preview');
    await book({ second: 'takes_over' });
    send({ size: '640x360' });
    await until('the newer one is here', async () => (await input()).figures?.video?.sequence?.width === 640);
    await encoders[0]!.ended;
    // Whoever has the old key is sent away when it is renewed.
    await book({ keyHash: 'ab'.repeat(32) });
    await until('nobody is here', async () => (await input()).state === 'nothing');
  });

  it('come encrypted to the same port where the house has a certificate, and stay', async () => {
    const { dir } = rig;
    await rig.close();
    mkdirSync(dir);
    rig = await openRig(dir, rig.showId, makeCertificate(dir, 'IP:127.0.0.1'));
    await book();
    encoders.push(new TestEncoder(`rtmps://127.0.0.1:${rig.running.ingestPort}/in/${inputId}/${key}`));
    await known();
    expect((await input()).isSecure).toBeTrue();
    const { sinceMs } = await input();
    // Longer than somebody has time who does not say who they are.
    await until('it has stayed', () => Date.now() - sinceMs > 9500);
    expect((await input()).sinceMs).toBe(sinceMs);
    await encoders[0]!.kill();
    await until('it is gone', async () => (await input()).state === 'nothing');
    send();
    await until('another comes in the open', async () => (await input()).isSecure === false);
  });

  it('are taken as they arrive where that was chosen', async () => {
    await book({ onArrival: 'is_taken' });
    send({ kbps: 300 });
    await programme('source');
    expect((await rig.report()).inputId).toBe(inputId);
  });
});
