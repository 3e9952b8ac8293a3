import { execFileSync, spawn } from 'node:child_process';
import { accessSync, constants, existsSync, mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { get as httpGet } from 'node:http';
import { get as httpsGet } from 'node:https';
import { connect } from 'node:net';
import path from 'node:path';
import { buildAll, DIST, ROOT } from '../build/main';
import { existingParent, openCluster } from '../machine/cluster';
import { Failure } from '../machine/failure';
import { freePort, isFree } from '../machine/ports';
import { makeDemoRecording } from './demo-recording';
import { writeJanusSettings } from './janus';
import { openKillDoor } from './kill-door';
import { readSecrets } from './secrets';
import { readOptions, type Options } from './options';
import { RunFile } from './run-record';
import { nodeProcess, Supervisor } from './supervisor';

/** Building, a database and its log need about a third of this; the rest is room to work. */
const LEAST_FREE_BYTES = 512 * 1024 ** 2;

const say = (text: string) => console.log(text);

async function main(): Promise<void> {
  const options = readOptions(process.argv.slice(2), ROOT, process.env['INIT_CWD'] ?? process.cwd());
  prepareFolder(options.dataDir);
  const record = new RunFile(options.dataDir);
  const left = await record.take();
  if (left.length > 0) say(`Cleared what an earlier run left: ${left.join(', ')}`);
  const logDir = path.join(options.dataDir, 'logs');
  const supervisor = new Supervisor(logDir, record, say);

  let ended: Promise<void> | undefined;
  const end = () => (ended ??= supervisor.end().then(() => record.release()));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.on(signal, () => {
      if (ended) return;
      say('Stopping');
      void end().then(() => process.exit(0));
    });
  }
  try {
    await refuseTakenPort(options);
    await buildAll(false, say);
    if (options.fresh) forget(options.dataDir);
    mkdirSync(logDir, { recursive: true });
    await startEverything(options, supervisor);
  } catch (error) {
    if (ended) return;
    await end();
    throw error;
  }
}

async function startEverything(options: Options, supervisor: Supervisor): Promise<void> {
  const { dataDir, demo } = options;
  const cluster = openCluster(dataDir);
  const [databasePort, clockPort] = [await freePort(), await freePort()];
  const relayPort = await freePort();
  // Desks reach this one: beside the server's own where that is free, so that a firewall can know it.
  const beside = options.port + 1;
  const piecesPort = (await isFree(beside)) === 'free' ? beside : await freePort();
  const secrets = readSecrets(dataDir);
  await supervisor.start({
    name: 'database',
    start: (log) => cluster.spawn(databasePort, log),
    ready: () => cluster.ready(databasePort, 100),
  });
  const database = demo ? 'juncta_demo' : 'juncta';
  cluster.createDatabase(databasePort, database);

  if (demo) {
    await supervisor.start({
      name: 'rehearsal-clock',
      start: (log) => nodeProcess(path.join(DIST, 'rehearsal-clock.mjs'), { PORT: String(clockPort) }, log),
      ready: () => answers(`http://127.0.0.1:${clockPort}/healthz`),
    });
  }
  const scheme = options.https ? 'https' : 'http';
  // From where a browser may come back from a place's consent page.
  const origins = ['localhost', '127.0.0.1'].map((host) => `${scheme}://${host}:${options.port}`);
  const standing: Standing = { supervisor, dataDir, clockPort, origins };
  const places = demo
    ? {
        emberplay: await startPlace(standing, 'emberplay', secrets.emberplayGrant),
        kitefield: await startPlace(standing, 'kitefield', secrets.kitefieldGrant),
        porchway: await startPlace(standing, 'porchway', secrets.porchwayGrant),
        guildroad: await startPlace(standing, 'guildroad', secrets.guildroadGrant),
      }
    : null;
  const httpsEnv = options.https
    ? { JUNCTA_HTTPS_CERT: options.https.cert, JUNCTA_HTTPS_KEY: options.https.key }
    : {};
  const roomPort = await freePort();
  const janusDir = path.join(dataDir, 'janus');
  writeJanusSettings({
    dir: janusDir,
    port: roomPort,
    secret: secrets.room,
    publicAddress: process.env['JUNCTA_ROOM_PUBLIC_ADDRESS'] ?? null,
  });
  await supervisor.start({
    name: 'janus',
    start: (log) =>
      spawn('janus', ['--configs-folder', janusDir], {
        env: { PATH: process.env['PATH'], LANG: 'C.UTF-8' },
        stdio: ['ignore', log, log],
        detached: true,
      }),
    ready: () => listens(roomPort),
  });
  const guestsPort = demo ? await freePort() : null;
  if (guestsPort !== null) {
    const env = {
      PORT: String(guestsPort),
      STANDIN_DIR: path.join(dataDir, 'standins', 'guests'),
      HOUSE_URL: `${scheme}://127.0.0.1:${options.port}`,
    };
    mkdirSync(env.STANDIN_DIR, { recursive: true });
    await supervisor.start({
      name: 'stand-in-guests',
      start: (log) => nodeProcess(path.join(DIST, 'stand-in-guests.mjs'), env, log),
      ready: () => answers(`${loopback(guestsPort)}/healthz`),
    });
    await makeDemoRecording(dataDir);
  }
  // Stand-ins are at home on this machine; in real use a house may have places of its own, and says so.
  const allowLocal = demo || process.env['JUNCTA_ALLOW_LOCAL_PLACES'] === '1' ? '1' : '0';
  const relayEnv = {
    JUNCTA_RELAY_DIR: path.join(dataDir, 'relay'),
    JUNCTA_RELAY_HOST: process.env['JUNCTA_HOST'] ?? '127.0.0.1',
    JUNCTA_RELAY_PORT: String(piecesPort),
    JUNCTA_RELAY_CONTROL_PORT: String(relayPort),
    JUNCTA_RELAY_SECRET: secrets.relay,
    JUNCTA_ALLOW_LOCAL_PLACES: allowLocal,
    ...httpsEnv,
  };
  await supervisor.start({
    name: 'relay',
    start: (log) => nodeProcess(path.join(DIST, 'relay.mjs'), relayEnv, log),
    ready: () => answers(`${loopback(relayPort)}/healthz`),
  });
  const supervisorUrl = await openKillDoor(secrets.relay, (name) => supervisor.kill(name));
  const serverEnv = {
    ...serverEnvironment(options, cluster.url(databasePort, database), clockPort),
    ...httpsEnv,
    JUNCTA_RELAY_URL: loopback(relayPort),
    JUNCTA_RELAY_PIECES_PORT: String(piecesPort),
    JUNCTA_RELAY_SECRET: secrets.relay,
    JUNCTA_ROOM_URL: `ws://127.0.0.1:${roomPort}`,
    JUNCTA_ROOM_SECRET: secrets.room,
    JUNCTA_SUPERVISOR_URL: supervisorUrl,
    JUNCTA_SUPERVISOR_SECRET: secrets.relay,
    ...(guestsPort === null ? {} : { JUNCTA_STANDIN_GUESTS_URL: loopback(guestsPort) }),
    JUNCTA_SECRETS_KEY: secrets.secretsKey,
    JUNCTA_ALLOW_LOCAL_PLACES: allowLocal,
    ...(process.env['JUNCTA_RELAY_PUBLIC_URL']
      ? { JUNCTA_RELAY_PUBLIC_URL: process.env['JUNCTA_RELAY_PUBLIC_URL'] }
      : {}),
    ...(places ? { JUNCTA_DEMO_PLACES: JSON.stringify(places) } : {}),
  };
  await supervisor.start({
    name: 'server',
    start: (log) => nodeProcess(path.join(DIST, 'server.mjs'), serverEnv, log),
    ready: () => answers(`${scheme}://127.0.0.1:${options.port}/healthz`),
  });
  const address = `${scheme}://localhost:${options.port}`;
  // For whoever wants to talk to a process directly: a rehearsal that moves the clock, a check of the relay.
  const addresses = {
    server: address,
    relay: loopback(relayPort),
    clock: demo ? loopback(clockPort) : null,
    room: `ws://127.0.0.1:${roomPort}`,
    emberplay: places?.emberplay.url ?? null,
    emberplayIngest: places && `rtmp://127.0.0.1:${places.emberplay.rtmpPort}/ember`,
    kitefield: places?.kitefield.url ?? null,
    porchway: places?.porchway.url ?? null,
    guildroad: places?.guildroad.url ?? null,
  };
  writeFileSync(path.join(dataDir, 'addresses.json'), JSON.stringify(addresses, null, 2));
  welcome(options, address, serverEnv);
}

/** What every stand-in place is started with. */
interface Standing {
  readonly supervisor: Supervisor;
  readonly dataDir: string;
  readonly clockPort: number;
  /** Where Juncta is for browsers. */
  readonly origins: readonly string[];
}

/** A stand-in place: its own process, folder and ports; the grant is its account's owner's, given beforehand. */
async function startPlace(
  { supervisor, dataDir, clockPort, origins }: Standing,
  name: string,
  grant: string,
): Promise<{ url: string; grant: string; rtmpPort: number }> {
  const [port, rtmpPort] = [await freePort(), await freePort()];
  const env = {
    PORT: String(port),
    RTMP_PORT: String(rtmpPort),
    STANDIN_DIR: path.join(dataDir, 'standins', name),
    CLOCK_URL: loopback(clockPort),
    REDIRECT_ORIGINS: origins.join(','),
    [`${name.toUpperCase()}_GRANT`]: grant,
  };
  mkdirSync(env.STANDIN_DIR, { recursive: true });
  await supervisor.start({
    name,
    start: (log) => nodeProcess(path.join(DIST, `${name}.mjs`), env, log),
    ready: () => answers(`${loopback(port)}/healthz`),
  });
  return { url: loopback(port), grant, rtmpPort };
}

const loopback = (port: number) => `http://127.0.0.1:${port}`;

function serverEnvironment(options: Options, databaseUrl: string, clockPort: number): NodeJS.ProcessEnv {
  return {
    JUNCTA_DATABASE_URL: databaseUrl,
    JUNCTA_PORT: String(options.port),
    JUNCTA_WEB_DIR: path.join(DIST, 'web', 'browser'),
    JUNCTA_MIGRATIONS_DIR: path.join(DIST, 'migrations'),
    JUNCTA_LOG_LEVEL: process.env['JUNCTA_LOG_LEVEL'] ?? 'info',
    ...(process.env['JUNCTA_HOST'] ? { JUNCTA_HOST: process.env['JUNCTA_HOST'] } : {}),
    ...(process.env['JUNCTA_METRICS_TOKEN']
      ? { JUNCTA_METRICS_TOKEN: process.env['JUNCTA_METRICS_TOKEN'] }
      : {}),
    ...(process.env['JUNCTA_PUBLIC_URL'] ? { JUNCTA_PUBLIC_URL: process.env['JUNCTA_PUBLIC_URL'] } : {}),
    ...(process.env['JUNCTA_TRUST_PROXY'] ? { JUNCTA_TRUST_PROXY: process.env['JUNCTA_TRUST_PROXY'] } : {}),
    ...(options.demo
      ? { JUNCTA_DEMO: '1', JUNCTA_CLOCK_URL: `http://127.0.0.1:${clockPort}` }
      : { NODE_ENV: 'production' }),
  };
}

function welcome(options: Options, address: string, serverEnv: NodeJS.ProcessEnv): void {
  say('');
  say(`Juncta is ready:  ${address}`);
  if (options.demo) {
    say('Sign in:          choose Odalys (host), Teo (producer) or Ingrid (moderator); no password.');
  } else {
    const printed = execFileSync(process.execPath, [path.join(DIST, 'server.mjs'), 'invitation'], {
      env: { PATH: process.env['PATH'], ...serverEnv },
      encoding: 'utf8',
    });
    const { token } = JSON.parse(printed) as { token: string | null };
    if (token)
      say(`First producer:   ${address}/invitation#${token}\n                  (works once, for three days)`);
    else say('Sign in:          with your address and password.');
  }
  say('Stop:             Ctrl-C');
}

/** One folder after the other: Node's own way of making them all at once never ends where none can be made. */
function makeFolder(dir: string): void {
  if (existsSync(dir)) return;
  makeFolder(path.dirname(dir));
  mkdirSync(dir);
}

function prepareFolder(dir: string): void {
  try {
    makeFolder(dir);
    accessSync(dir, constants.R_OK | constants.W_OK | constants.X_OK);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const why =
      code === 'EACCES' || code === 'EPERM' || code === 'EROFS'
        ? 'this account may not write there'
        : code === 'ENOSPC'
          ? 'the disk is full'
          : (error as Error).message;
    throw new Failure(`The data folder ${dir} cannot be used: ${why}. Name another with --data.`);
  }
  const fs = statfsSync(existingParent(dir));
  const free = fs.bavail * fs.bsize;
  if (free < LEAST_FREE_BYTES) {
    const [has, needs] = [free, LEAST_FREE_BYTES].map((bytes) => Math.round(bytes / 1024 ** 2));
    throw new Failure(
      `The disk of ${dir} has ${has} MB left, and ${needs} MB are needed. Free some, or name another folder with --data.`,
    );
  }
}

async function refuseTakenPort({ port }: Options): Promise<void> {
  const state = await isFree(port, process.env['JUNCTA_HOST'] ?? '127.0.0.1');
  if (state === 'not_allowed')
    throw new Failure(`This account may not listen on port ${port}. Choose one from 1024 with --port.`);
  if (state === 'taken')
    throw new Failure(`Something else listens on port ${port}. End it, or choose another with --port.`);
}

/** Only what is ours: a folder named by mistake loses nothing else. */
function forget(dir: string): void {
  for (const name of [
    'postgresql',
    'postgresql-password',
    'secrets.json',
    'relay',
    'janus',
    'standins',
    'logs',
  ]) {
    rmSync(path.join(dir, name), { recursive: true, force: true });
  }
}

const ANSWER_TIMEOUT_MS = 1000;

/** Whether something takes connections there. */
function listens(port: number): Promise<boolean> {
  return new Promise((answer) => {
    const socket = connect({ port, host: '127.0.0.1', timeout: ANSWER_TIMEOUT_MS });
    const done = (up: boolean) => {
      socket.destroy();
      answer(up);
    };
    socket.on('connect', () => done(true));
    socket.on('timeout', () => done(false));
    socket.on('error', () => done(false));
  });
}

/** Whether a process answers that it is there. Its own certificate is not asked for its name here. */
function answers(url: string): Promise<boolean> {
  const get = url.startsWith('https:') ? httpsGet : httpGet;
  return new Promise((answer) => {
    const request = get(url, { rejectUnauthorized: false, timeout: ANSWER_TIMEOUT_MS }, (response) => {
      response.resume();
      answer(response.statusCode === 200);
    });
    request.on('timeout', () => request.destroy());
    request.on('error', () => answer(false));
  });
}

main().catch((error: unknown) => {
  const full = (error as NodeJS.ErrnoException | null)?.code === 'ENOSPC';
  if (full)
    console.error('The disk is full. Free some room, or name a data folder on another disk with --data.');
  else console.error(error instanceof Failure ? error.message : error);
  process.exit(1);
});
