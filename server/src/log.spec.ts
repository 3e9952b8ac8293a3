import { makeLog } from './log';

describe('log', () => {
  it('holds no secret, however deep it stands', () => {
    const lines: string[] = [];
    const log = makeLog('info', { write: (line) => void lines.push(line) });
    const secret = 'sesame';
    log.info({
      password: secret,
      body: { token: secret, current: secret },
      req: { headers: { cookie: secret, authorization: secret } },
      res: { headers: { 'set-cookie': secret } },
      destination: { ingest: { key: secret, streamKey: secret } },
    });
    expect(lines.length).toBe(1);
    expect(lines[0]).not.toContain(secret);
    expect(lines[0]!.match(/\[redacted\]/g)?.length).toBe(8);
  });
});
