import { randomUUID } from 'node:crypto';
import { existsSync, openSync, unlinkSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/**
 * A file in memory, readable by us alone and without a name by the time it is read: what a child process is to know and no
 * argument list is to show. To be given to it as an open file, and closed.
 */
export function namelessFile(text: string): number {
  const file = path.join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), `juncta-${randomUUID()}`);
  const opened = openSync(file, 'wx+', 0o600);
  unlinkSync(file);
  writeSync(opened, text);
  return opened;
}
