import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = path.join(path.dirname(fileURLToPath(import.meta.url)), 'main.ts');

describe('rehearsal clock', () => {
  let clock: ChildProcess;
  let url: string;
  beforeAll(async () => {
    clock = spawn(process.execPath, ['--import', 'tsx', MAIN], { stdio: ['ignore', 'pipe', 'inherit'] });
    const line = await new Promise<string>((done) =>
      clock.stdout!.once('data', (data) => done(String(data))),
    );
    url = `http://127.0.0.1:${(JSON.parse(line) as { address: { port: number } }).address.port}/clock`;
  });
  afterAll(async () => {
    const ended = new Promise((done) => clock.once('exit', done));
    clock.kill('SIGTERM');
    expect(await ended).toBe(0);
  });

  const put = (body: unknown) =>
    fetch(url, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
  const read = async () => (await (await fetch(url)).json()) as { nowMs: number; rate: number };

  it('can be set, stretched, moved, and put back', async () => {
    await put({ rate: 0, atMs: 1_000_000 });
    expect(await read()).toEqual(jasmine.objectContaining({ nowMs: 1_000_000, rate: 0 }));
    await put({ aheadMs: 500 });
    expect((await read()).nowMs).toBe(1_000_500);
    await put({ rate: 60 });
    expect((await read()).rate).toBe(60);
    await put({ real: true });
    expect(Math.abs((await read()).nowMs - Date.now())).toBeLessThan(1000);
  });

  for (const wrong of [{}, { rate: -1 }, { rate: 4000 }, { atMs: 'noon' }, { rate: 1, much: 2 }, []]) {
    it(`refuses ${JSON.stringify(wrong)}`, async () => expect((await put(wrong)).status).toBe(400));
  }

  it('tells whoever follows at once, and at every change', async () => {
    const stream = (await fetch(`${url}/changes`)).body!.pipeThrough(new TextDecoderStream()).getReader();
    const next = async () =>
      JSON.parse((await stream.read()).value!.replace('data: ', '')) as { rate: number };
    expect((await next()).rate).toBe(1);
    await put({ rate: 5 });
    expect((await next()).rate).toBe(5);
    await put({ real: true });
    await stream.cancel();
  });
});
