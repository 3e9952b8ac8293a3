import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { connect, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { createServer, type Server } from 'node:tls';
import { fileURLToPath } from 'node:url';
import { makeCertificate } from '../testing/certificate';
import { openPlace, type Place } from '../testing/place';

const TRY = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../testing/rtmps-try.ts');

describe('RTMPS', () => {
  let place: Place;
  let door: Server;
  let dir: string;
  let port: number;

  beforeAll(async () => {
    place = await openPlace();
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-tls-'));
    const { certFile, keyFile } = makeCertificate(dir, 'DNS:ingest.test');
    const inside = new URL(place.address.replace('rtmp:', 'http:'));
    // What stands before many an ingest: it ends the encryption and passes the rest on.
    door = createServer({ key: readFileSync(keyFile), cert: readFileSync(certFile) }, (outer) => {
      const inner = connect(Number(inside.port), inside.hostname);
      outer.pipe(inner).pipe(outer);
      for (const end of [outer, inner]) end.on('error', () => [outer, inner].forEach((one) => one.destroy()));
    });
    door.on('tlsClientError', () => undefined);
    await new Promise<void>((done) => door.listen(0, '127.0.0.1', done));
    port = (door.address() as AddressInfo).port;
  }, 30_000);
  afterAll(async () => {
    door.close();
    await place.close();
    rmSync(dir, { recursive: true, force: true });
  });

  const dial = (host: string, key: string, trusted: boolean) =>
    new Promise<{ type: string; why?: string }>((done, failed) => {
      const env = {
        PATH: process.env['PATH'],
        ...(trusted ? { NODE_EXTRA_CA_CERTS: path.join(dir, 'cert.pem') } : {}),
      };
      const args = ['--import', 'tsx', TRY, `rtmps://${host}:${port}/ember`, key];
      execFile(process.execPath, args, { env, timeout: 20_000 }, (error, out) => {
        if (error) failed(new Error(error.message));
        else done(JSON.parse(out.split('\n')[0]!) as { type: string });
      });
    });

  it('publishes through an encrypted line', async () => {
    expect(await dial('ingest.test', await place.key(), true)).toEqual({ type: 'publishing' });
  }, 30_000);

  it('trusts no certificate that nobody vouches for, nor one of another name', async () => {
    const key = await place.key();
    expect(await dial('ingest.test', key, false)).toEqual(
      jasmine.objectContaining({ type: 'lost', why: jasmine.stringMatching(/self.signed/) }),
    );
    expect(await dial('other.test', key, true)).toEqual(
      jasmine.objectContaining({ type: 'lost', why: jasmine.stringMatching(/altnames/) }),
    );
  }, 40_000);
});
