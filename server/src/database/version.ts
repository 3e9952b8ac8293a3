import { createHash } from 'node:crypto';

/**
 * Names a state of something by what is in it, so that whoever changes it can say which state they had before them. For
 * things that are changed as a whole.
 */
export const versionOf = (value: unknown): string =>
  createHash('sha256').update(JSON.stringify(value)).digest('base64url').slice(0, 22);
