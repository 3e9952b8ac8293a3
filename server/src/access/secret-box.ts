import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';

/**
 * Keys and tokens of places, encrypted at rest: AES-256-GCM with a key that is not in the database. `about` binds a
 * secret to what it belongs to, so that a row's secret cannot be moved to another.
 */
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

export class SecretBox {
  /** @param key 32 bytes */
  constructor(private readonly key: Buffer) {
    if (key.length !== 32) throw new RangeError('the key must have 32 bytes');
  }

  lock(secret: string, about: string): string {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', this.key, nonce).setAAD(Buffer.from(about));
    const locked = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), locked]).toString('base64');
  }

  /** Throws when it was locked with another key, for something else, or was changed. */
  unlock(text: string, about: string): string {
    const bytes = Buffer.from(text, 'base64');
    const nonce = bytes.subarray(0, NONCE_BYTES);
    const tag = bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES);
    const decipher = createDecipheriv('aes-256-gcm', this.key, nonce)
      .setAAD(Buffer.from(about))
      .setAuthTag(tag);
    return (
      decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES), undefined, 'utf8') + decipher.final('utf8')
    );
  }
}
