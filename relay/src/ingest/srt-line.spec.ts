import type { InputReport } from '@juncta/contract/relay';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { TestEncoder, type EncoderSettings } from '../testing/encoder';
import { inputsRequest } from '../testing/inputs';
import { until } from '../testing/place';
import { longestStep, probe, rises } from '../testing/probe';
import { openProcessRig, openRig, type InnerRig } from '../testing/rig';
import { freeUdpPort, isListening, listens } from '../testing/srt-place';

/** Outside encoders by SRT, over the network, with real media. */
describe('outside pictures by SRT', () => {
  let rig: InnerRig;
  let port: number;
  const encoders: TestEncoder[] = [];
  const inputId = randomUUID();
  const passphrase = 'a-passphrase-that-nobody-guesses';

  beforeEach(async () => {
    rig = await openRig();
    port = await freeUdpPort();
    await book();
  });
  afterEach(async () => {
    for (const encoder of encoders.splice(0)) await encoder.kill();
    await rig.close();
  });

  const book = async (with_ = passphrase) => {
    const srt = { port, passphrase: with_ };
    await rig.order('PUT', '/inputs', inputsRequest(inputId, with_, { srt }));
    await listens(port);
  };
  const send = (with_ = passphrase, settings: EncoderSettings = {}) => {
    const url = `srt://127.0.0.1:${port}?mode=caller&passphrase=${with_}`;
    const encoder = new TestEncoder(url, { keyframes: 15, ...settings });
    encoders.push(encoder);
    return encoder;
  };
  const input = async (): Promise<InputReport> => (await rig.report()).inputs[0]!;
  const isState = (state: InputReport['state']) =>
    until(`the input is ${state}`, async () => (await input()).state === state);
  const fits = () =>
    until('it is known what comes', async () => {
      const report = await input();
      return report.carriage ? report : null;
    });

  it('are told apart from a wrong passphrase, and are the programme, copied, lost and back', async () => {
    send('another-passphrase');
    await isState('knocking');
    await listens(port);
    const first = send();
    const report = await fits();
    expect(report.isSecure).toBe(true);
    expect(report.carriage).toEqual({ video: false, audio: false });
    expect(report.figures!.video!.sequence).toEqual(jasmine.objectContaining({ width: 320, height: 180 }));
    await rig.order('POST', '/input', { inputId });
    const runId = randomUUID();
    await rig.order('PUT', '/run', { runId });
    const shown = (state: string) =>
      until(`the programme is ${state}`, async () => (await rig.report()).state === state);
    await shown('source');
    await first.kill();
    await shown('slate');
    await listens(port);
    send();
    await shown('source');
    await until('some of it was recorded', async () => ((await rig.report()).showTimeMs ?? 0) > 6000);
    await rig.order('POST', '/end');
    await until(
      'the recording is ready',
      async () =>
        (await rig.report()).recordings.some(({ kind, status }) => kind === 'aired' && status === 'ready'),
      80_000,
    );
    const got = probe(path.join(rig.dir, 'shows', rig.showId, runId, 'aired.mp4'));
    expect(rises(got.videoFrames.map(({ at }) => at))).toBe(true);
    expect(longestStep(got.audioFrames)).toBeLessThan(0.03);
  });

  it('are made H.264 and AAC from the next call on where they are something else, which is said', async () => {
    const other = () => send(passphrase, { codec: 'libx265', audioCodec: 'mp2' });
    for (let calls = 0; calls < 2; calls++) {
      await other().ended;
      await listens(port);
    }
    other();
    const { figures, findings, cores } = await fits();
    expect(figures!.video).toEqual(jasmine.objectContaining({ codec: 'h264', madeFrom: 'h265' }));
    expect(figures!.audio!.codec).toBe('aac');
    expect(findings).toContain({ code: 'codec_made', level: 'note', has: 'h265', wants: 'h264' });
    expect(cores).toBeGreaterThan(0);
  });

  describe('that listen', () => {
    const key = new URLSearchParams({ streamid: 'hall/1', passphrase: `it's long & odd` }).toString();
    const call = (address: string, with_ = key) =>
      rig.order('PUT', '/inputs', inputsRequest(inputId, with_, { srt: { address, key: with_ } }));
    const problem = (wanted: InputReport['callProblem']) =>
      until(`the call meets ${wanted}`, async () => (await input()).callProblem === wanted, 20_000);
    const listening = (at: number) => {
      const encoder = new TestEncoder(`srt://127.0.0.1:${at}?mode=listener`, {
        keyframes: 15,
        passphrase: `it's long & odd`,
      });
      encoders.push(encoder);
      return encoder;
    };

    it('are called, until they answer, and again when they were away', async () => {
      const at = await freeUdpPort();
      await call(`srt://127.0.0.1:${at}`);
      await problem('no_answer');
      const first = listening(at);
      await isState('in_preview');
      expect(await input()).toEqual(jasmine.objectContaining({ callProblem: null, isSecure: true }));
      await first.kill();
      await isState('nothing');
      listening(at);
      await isState('in_preview');
    });

    it('are told apart from such as want another passphrase, and from addresses that lead nowhere', async () => {
      const at = await freeUdpPort();
      listening(at);
      await listens(at);
      await call(`srt://127.0.0.1:${at}`, 'passphrase=quite-another-one');
      await problem('wrong_passphrase');
      await call('srt://nowhere.invalid:9000');
      await problem('not_found');
      expect((await input()).state).toBe('nothing');
    });
  });

  it('find their port again after the relay was killed', async () => {
    const dir = mkdtempSync(path.join(tmpdir(), 'juncta-srt-'));
    const killed = await openProcessRig(dir, path.join(dir, 'log'));
    const at = await freeUdpPort();
    const srt = { port: at, passphrase };
    await killed.order('PUT', '/inputs', inputsRequest(randomUUID(), passphrase, { srt }));
    await listens(at);
    process.kill(killed.pid, 'SIGKILL');
    await until('what it left behind has let go of the port', async () => !(await isListening(at)), 30_000);
    expect(await isListening(at)).toBeFalse();
    rmSync(dir, { recursive: true, force: true });
  });

  it('come no more with a passphrase that was renewed', async () => {
    send();
    await isState('in_preview');
    await book('another-passphrase');
    await isState('nothing');
    send('another-passphrase');
    await isState('in_preview');
    const args = await import('node:fs/promises').then(async ({ readdir, readFile }) => {
      const all = (await readdir('/proc')).filter((name) => /^\d+$/.test(name));
      const lines = await Promise.all(
        all.map((id) => readFile(`/proc/${id}/cmdline`, 'utf8').catch(() => '')),
      );
      return lines.filter((line) => line.includes('ffconcat') || line.includes('/dev/fd/3'));
    });
    expect(args.length).toBeGreaterThan(0);
    expect(args.join()).not.toContain('another-passphrase');
  });
});
