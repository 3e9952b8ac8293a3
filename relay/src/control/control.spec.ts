import { randomUUID } from 'node:crypto';
import { rangeOf } from './control';
import { openRig, type InnerRig } from '../testing/rig';

describe('the control door', () => {
  let rig: InnerRig;
  beforeAll(async () => {
    rig = await openRig();
  });
  afterAll(() => rig.close());

  it('opens by the secret only', async () => {
    for (const Authorization of ['', 'Bearer wrong', 'Basic x']) {
      const response = await rig.ask(`/control/shows/${rig.showId}`, { headers: { Authorization } });
      expect(response.status).withContext(Authorization).toBe(401);
    }
    expect((await rig.ask(`/control/shows/${rig.showId}`)).status).toBe(200);
  });

  for (const [method, where, body, status] of [
    ['GET', '/control/nothing', undefined, 404],
    ['GET', '/control/shows/../../etc', undefined, 404],
    ['POST', '/control/shows/not-an-id/end', '{}', 404],
    ['PUT', '/run', '{"runId":"../x"}', 400],
    ['PUT', '/run', '{', 400],
    ['POST', `/feeds/${randomUUID()}/start`, '{"address":5}', 400],
    ['POST', '/cover', `{"on":true,"pad":"${'x'.repeat(70_000)}"}`, 413],
  ] as const) {
    it(`answers ${method} ${where} with ${status}`, async () => {
      const full = where.startsWith('/control') ? where : `/control/shows/${rig.showId}${where}`;
      const response = await rig.ask(full, { method, ...(body === undefined ? {} : { body }) });
      expect(response.status).toBe(status);
    });
  }

  it('tells of everything that goes on, to whoever follows', async () => {
    const response = await rig.ask('/control/changes');
    const reader = response.body!.getReader();
    const first = new TextDecoder().decode((await reader.read()).value);
    expect(JSON.parse(first.slice(6))).toEqual(jasmine.objectContaining({ programmes: jasmine.any(Array) }));
    await reader.cancel();
  });
});

describe('a range of a file', () => {
  for (const [header, wanted] of [
    [undefined, null],
    ['bytes=0-', { from: 0, to: 999 }],
    ['bytes=10-19', { from: 10, to: 19 }],
    ['bytes=990-5000', { from: 990, to: 999 }],
    ['bytes=-100', { from: 900, to: 999 }],
    ['bytes=-5000', { from: 0, to: 999 }],
    ['bytes=1000-', 'beyond'],
    ['bytes=5-1', 'beyond'],
    ['bytes=-', null],
    ['bytes=0-1,5-6', null],
    ['lines=0-1', null],
  ] as const) {
    it(`${header} is ${JSON.stringify(wanted)}`, () => expect(rangeOf(header, 1000)).toEqual(wanted));
  }
});
