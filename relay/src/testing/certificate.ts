import { execFileSync } from 'node:child_process';
import path from 'node:path';

/**
 * A certificate for a day, which nobody vouches for: `cert.pem` and `key.pem` in `dir`.
 *
 * @param name whom it is for: `DNS:ingest.test`, `IP:127.0.0.1`
 */
export function makeCertificate(dir: string, name: string): { certFile: string; keyFile: string } {
  const [certFile, keyFile] = [path.join(dir, 'cert.pem'), path.join(dir, 'key.pem')];
  const subject = ['-subj', `/CN=${name.split(':')[1]}`, '-addext', `subjectAltName=${name}`];
  execFileSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '1', ...subject],
      ...['-keyout', keyFile, '-out', certFile],
    ],
    { stdio: 'ignore' },
  );
  return { certFile, keyFile };
}
