import { openKillDoor } from './kill-door';

const SECRET = 'the secret of server and relay, long enough';

describe('the door for drills', () => {
  let url: string;
  let killed: string[];
  beforeEach(async () => {
    killed = [];
    url = await openKillDoor(SECRET, (name) => {
      killed.push(name);
      return name !== 'database';
    });
  });
  const ask = async (path: string, method = 'POST', secret = SECRET) =>
    (await fetch(url + path, { method, headers: { Authorization: `Bearer ${secret}`, Connection: 'close' } }))
      .status;

  it('kills what may be killed, and says whether it did', async () => {
    expect(await ask('/kill/janus')).toBe(200);
    expect(await ask('/kill/database')).toBe(409);
    expect(killed).toEqual(['janus', 'database']);
  });
  for (const [what, path, method, secret, status] of [
    ['another secret', '/kill/janus', 'POST', 'no', 401],
    ['no secret at all', '/kill/janus', 'POST', '', 401],
    ['a process that ends itself', '/kill/server', 'POST', SECRET, 404],
    ['a way round', '/kill/../server', 'POST', SECRET, 404],
    ['a look', '/kill/janus', 'GET', SECRET, 404],
  ] as const) {
    it(`kills nothing for ${what}`, async () => {
      expect(await ask(path, method, secret)).toBe(status);
      expect(killed).toEqual([]);
    });
  }
});
