import { makeLog } from './log';

/** As drizzle-orm throws it: query and parameters as properties, and in the message. */
const failedQuery = (query: string, params: unknown[], cause: Error) =>
  Object.assign(new Error(`Failed query: ${query}\nparams: ${params.join()}`, { cause }), { query, params });

describe('log', () => {
  it('holds no secret, however deep it stands', () => {
    const lines: string[] = [];
    const log = makeLog('test', 'info', { write: (line) => void lines.push(line) });
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

  it('says what went wrong with a query, and not what was in it', () => {
    const lines: string[] = [];
    const log = makeLog('test', 'info', { write: (line) => void lines.push(line) });
    const cause = Object.assign(new Error('the connection broke'), {
      code: '57P01',
      client: { secretKey: 'sesame' },
    });
    log.error({ err: failedQuery('update member set password_hash = $1', ['sesame'], cause) }, 'failed');
    expect(lines[0]).not.toContain('sesame');
    for (const kept of ['57P01', 'the connection broke', 'update member']) expect(lines[0]).toContain(kept);
  });
});
