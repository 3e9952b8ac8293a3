import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** What the processes of one house share and nobody else may know. Belongs into its back-up. */
export interface Secrets {
  /** Between server and relay. */
  readonly relay: string;
  /** Between server and Janus; the secrets of rooms follow from it. */
  readonly room: string;
  /** Locks the keys and tokens of places in the database: without it they have to be entered anew. */
  readonly secretsKey: string;
  /** Demo: what the owners of the stand-ins' channels have granted. */
  readonly emberplayGrant: string;
  readonly kitefieldGrant: string;
  readonly porchwayGrant: string;
  readonly guildroadGrant: string;
}

/** Made at the first start, and the same from then on. */
export function readSecrets(dataDir: string): Secrets {
  const file = path.join(dataDir, 'secrets.json');
  const known = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Partial<Secrets>) : {};
  const secrets: Secrets = {
    relay: known.relay ?? randomBytes(32).toString('hex'),
    room: known.room ?? randomBytes(32).toString('hex'),
    secretsKey: known.secretsKey ?? randomBytes(32).toString('base64'),
    emberplayGrant: known.emberplayGrant ?? randomBytes(32).toString('base64url'),
    porchwayGrant: known.porchwayGrant ?? randomBytes(32).toString('base64url'),
    guildroadGrant: known.guildroadGrant ?? randomBytes(32).toString('base64url'),
    kitefieldGrant: known.kitefieldGrant ?? randomBytes(32).toString('base64url'),
  };
  writeFileSync(file, JSON.stringify(secrets, null, 1), { mode: 0o600 });
  return secrets;
}
