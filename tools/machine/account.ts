import { spawnSync } from 'node:child_process';
import { Failure } from './failure';

/** An account of this machine, as the system counts it. */
export interface Account {
  readonly uid: number;
  readonly gid: number;
}

/** What Debian has for processes that own nothing. */
const UNPRIVILEGED = 'nobody';
/** Ports below this only root may listen on. */
const FIRST_FREE_PORT = 1024;

export function accountOf(name: string): Account {
  const ids = ['-u', '-g'].map((flag) => Number(spawnSync('id', [flag, name], { encoding: 'utf8' }).stdout));
  const [uid, gid] = ids as [number, number];
  if (!uid || !gid) throw new Failure(`The account "${name}" is missing, which Debian brings.`);
  return { uid, gid };
}

export interface Needs {
  /** Files to be read. */
  readonly reads: readonly string[];
  /** Folders to be entered. */
  readonly enters: readonly string[];
  readonly port: number;
}

/**
 * As whom the processes run that face the network. Null: as whoever runs this. Root's power is given up where files,
 * folders and port allow it; where they do not, `said` tells why.
 */
export function unprivileged(needs: Needs): {
  readonly account: Account | null;
  readonly said: string | null;
} {
  if (process.getuid?.() !== 0) return { account: null, said: null };
  const account = accountOf(UNPRIVILEGED);
  const why = obstacle(account, needs);
  return why === null
    ? { account, said: `Started as root: what faces the network runs as "${UNPRIVILEGED}".` }
    : { account: null, said: `Everything runs as root: ${why}` };
}

function obstacle(account: Account, { reads, enters, port }: Needs): string | null {
  const may = (flag: '-r' | '-x', at: string) =>
    spawnSync('test', [flag, at], { ...account, cwd: '/' }).status === 0;
  const unread = reads.find((file) => !may('-r', file));
  if (unread) return `the account "${UNPRIVILEGED}" may not read ${unread}.`;
  const closed = enters.find((dir) => !may('-x', dir));
  if (closed) return `the account "${UNPRIVILEGED}" may not enter ${closed}.`;
  if (port < FIRST_FREE_PORT)
    return `port ${port} is root's. Put a proxy in front, and name a port from ${FIRST_FREE_PORT} on.`;
  return null;
}

/** Gives a folder and all that is in it to the account; links in it are not followed. */
export function handOver(dir: string, { uid, gid }: Account): void {
  const done = spawnSync('chown', ['-R', '-h', `${uid}:${gid}`, dir], { encoding: 'utf8' });
  if (done.status !== 0)
    throw new Failure(`The folder ${dir} could not be handed over: ${done.stderr.trim()}`);
}
