import { execFileSync, spawn } from 'node:child_process';
import { accessSync, constants, existsSync, mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { buildAll, DIST, ROOT } from '../build/main';
import { handOver, unprivileged, type Account } from '../machine/account';
import { existingParent, openCluster } from '../machine/cluster';
import { Failure } from '../machine/failure';
import { freePort, isFree } from '../machine/ports';
import { ALIVE_TIMEOUT_MS, answers, isWell, listens, reacts } from './liveness';
import { makeDemoRecording } from './demo-recording';
import { writeJanusSettings } from './janus';
import { openKillDoor } from './kill-door';
import { readSecrets } from './secrets';
import { readOptions, type Options } from './options';
import { RunFile } from './run-record';
import { nodeProcess, Supervisor, type Charge } from './supervisor';

/** With less than this a recording soon ends; everything else goes on. */
const SHORT_OF_ROOM_BYTES = 2 * 1024 ** 3;

const MEASURE_MS = 120_000;

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
  const account = chooseAccount(options);
  const cluster = openCluster(dataDir);
  const [databasePort, clockPort] = [await freePort(), await freePort()];
  const relayPort = await freePort();
  // Desks reach this one: beside the server's own where that is free, so that a firewall can know it.
  const beside = options.port + 1;
  const uplinkPort = (await isFree(beside)) === 'free' ? beside : await freePort();
  // Encoders outside are set up once and keep the address.
  const ingestPort = (await isFree(beside + 1)) === 'free' ? beside + 1 : await freePort();
  const secrets = readSecrets(dataDir);
  await supervisor.start({
    name: 'database',
    start: (log) => cluster.spawn(databasePort, log),
    ready: () => cluster.ready(databasePort, 100),
    answers: () => cluster.answers(databasePort, ALIVE_TIMEOUT_MS),
  });
  const database = demo ? 'juncta_demo' : 'juncta';
  cluster.createDatabase(databasePort, database);

  if (demo) {
    await supervisor.start({
      name: 'rehearsal-clock',
      start: (log) =>
        nodeProcess(path.join(DIST, 'rehearsal-clock.mjs'), { PORT: String(clockPort) }, log, account),
      ...atHealthz(loopback(clockPort)),
    });
  }
  const scheme = options.https ? 'https' : 'http';
  // From where a browser may come back from a place's consent page.
  const origins = ['localhost', '127.0.0.1'].map((host) => `${scheme}://${host}:${options.port}`);
  const standing: Standing = { supervisor, dataDir, clockPort, origins, account };
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
  if (account) handOver(janusDir, account);
  await supervisor.start({
    name: 'janus',
    start: (log) =>
      spawn('janus', ['--configs-folder', janusDir], {
        env: { PATH: process.env['PATH'], LANG: 'C.UTF-8' },
        stdio: ['ignore', log, log],
        detached: true,
        ...account,
      }),
    ready: () => listens(roomPort),
    answers: () => reacts(roomPort),
  });
  const guestsPort = demo ? await freePort() : null;
  if (guestsPort !== null) {
    const env = {
      PORT: String(guestsPort),
      STANDIN_DIR: path.join(dataDir, 'standins', 'guests'),
      HOUSE_URL: `${scheme}://127.0.0.1:${options.port}`,
    };
    mkdirSync(env.STANDIN_DIR, { recursive: true });
    if (account) handOver(env.STANDIN_DIR, account);
    await supervisor.start({
      name: 'stand-in-guests',
      // In a new data folder it encodes what the guests will send: as long as the machine takes for that.
      startMs: 5 * 60_000,
      start: (log) => nodeProcess(path.join(DIST, 'stand-in-guests.mjs'), env, log, account),
      ...atHealthz(loopback(guestsPort)),
    });
    await makeDemoRecording(dataDir);
  }
  const encodersPort = demo ? await freePort() : null;
  if (encodersPort !== null) {
    const env = {
      PORT: String(encodersPort),
      STANDIN_DIR: path.join(dataDir, 'standins', 'encoders'),
      GUESTS_DIR: path.join(dataDir, 'standins', 'guests'),
    };
    mkdirSync(env.STANDIN_DIR, { recursive: true });
    if (account) handOver(env.STANDIN_DIR, account);
    await supervisor.start({
      name: 'stand-in-encoders',
      start: (log) => nodeProcess(path.join(DIST, 'stand-in-encoders.mjs'), env, log, account),
      ...atHealthz(loopback(encodersPort)),
    });
  }
  // Stand-ins are at home on this machine; in real use a house may have places of its own, and says so.
  const allowLocal = demo || process.env['JUNCTA_ALLOW_LOCAL_PLACES'] === '1' ? '1' : '0';
  const relayEnv = {
    JUNCTA_RELAY_DIR: path.join(dataDir, 'relay'),
    JUNCTA_RELAY_HOST: process.env['JUNCTA_HOST'] ?? '127.0.0.1',
    JUNCTA_RELAY_PORT: String(uplinkPort),
    JUNCTA_RELAY_CONTROL_PORT: String(relayPort),
    JUNCTA_RELAY_INGEST_PORT: String(ingestPort),
    JUNCTA_RELAY_SECRET: secrets.relay,
    JUNCTA_ALLOW_LOCAL_PLACES: allowLocal,
    JUNCTA_ENCODE_COST: path.join(dataDir, 'relay', 'encode-cost.json'),
    ...(process.env['JUNCTA_ENCODING_CORES']
      ? { JUNCTA_ENCODING_CORES: process.env['JUNCTA_ENCODING_CORES'] }
      : {}),
    ...httpsEnv,
  };
  mkdirSync(relayEnv.JUNCTA_RELAY_DIR, { recursive: true, mode: 0o700 });
  if (account) handOver(relayEnv.JUNCTA_RELAY_DIR, account);
  await measureEncoding(relayEnv.JUNCTA_ENCODE_COST, account);
  await supervisor.start({
    name: 'relay',
    start: (log) => nodeProcess(path.join(DIST, 'relay.mjs'), relayEnv, log, account),
    // A disk that is short of room is no reason not to send: its own health says that.
    ready: () => answers(`${loopback(relayPort)}/healthz`),
    answers: () => answers(`${loopback(relayPort)}/healthz`),
  });
  const supervisorUrl = await openKillDoor(secrets.relay, (name) => supervisor.kill(name));
  const serverEnv = {
    ...serverEnvironment(options, cluster.url(databasePort, database), clockPort),
    ...httpsEnv,
    JUNCTA_RELAY_URL: loopback(relayPort),
    JUNCTA_RELAY_UPLINK_PORT: String(uplinkPort),
    JUNCTA_RELAY_INGEST_PORT: String(ingestPort),
    JUNCTA_INGEST_SRT_PORT: String(ingestPort + 1),
    JUNCTA_RELAY_SECRET: secrets.relay,
    JUNCTA_ROOM_URL: `ws://127.0.0.1:${roomPort}`,
    JUNCTA_ROOM_SECRET: secrets.room,
    JUNCTA_SUPERVISOR_URL: supervisorUrl,
    JUNCTA_SUPERVISOR_SECRET: secrets.relay,
    ...(guestsPort === null ? {} : { JUNCTA_STANDIN_GUESTS_URL: loopback(guestsPort) }),
    ...(encodersPort === null ? {} : { JUNCTA_STANDIN_ENCODERS_URL: loopback(encodersPort) }),
    JUNCTA_SECRETS_KEY: secrets.secretsKey,
    JUNCTA_ALLOW_LOCAL_PLACES: allowLocal,
    ...(process.env['JUNCTA_RELAY_PUBLIC_URL']
      ? { JUNCTA_RELAY_PUBLIC_URL: process.env['JUNCTA_RELAY_PUBLIC_URL'] }
      : {}),
    ...(process.env['JUNCTA_INGEST_PUBLIC_HOST']
      ? { JUNCTA_INGEST_PUBLIC_HOST: process.env['JUNCTA_INGEST_PUBLIC_HOST'] }
      : {}),
    ...(places ? { JUNCTA_DEMO_PLACES: JSON.stringify(places) } : {}),
  };
  await supervisor.start({
    name: 'server',
    start: (log) => nodeProcess(path.join(DIST, 'server.mjs'), serverEnv, log, account),
    ...atHealthz(`${scheme}://127.0.0.1:${options.port}`),
  });
  const address = `${scheme}://localhost:${options.port}`;
  // For whoever wants to talk to a process directly: a rehearsal that moves the clock, a check of the relay.
  const addresses = {
    server: address,
    relay: loopback(relayPort),
    ingest: `rtmp://127.0.0.1:${ingestPort}`,
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

/** Once in a data folder. A house that could not measure goes by the figures of a slow machine, and says so. */
async function measureEncoding(file: string, account: Account | null): Promise<void> {
  if (existsSync(file)) return;
  say('Measuring what encoding takes on this machine');
  const child = spawn(process.execPath, [path.join(DIST, 'measure-encoding.mjs'), file], {
    env: { PATH: process.env['PATH'] },
    stdio: ['ignore', 'ignore', 'pipe'],
    timeout: MEASURE_MS,
    ...account,
  });
  let says = '';
  child.stderr.on('data', (text) => (says += String(text)));
  const status = await new Promise((done) => {
    child.once('error', () => done(null));
    child.once('close', done);
  });
  if (status !== 0) say(`It could not be measured: ${says.trim()}`);
}

/** As whom everything runs but the database, which has an account of its own. */
function chooseAccount({ dataDir, https, port }: Options): Account | null {
  const { account, said } = unprivileged({
    reads: [path.join(DIST, 'server.mjs'), ...(https ? [https.cert, https.key] : [])],
    enters: [path.join(DIST, 'web', 'browser'), dataDir],
    port,
  });
  if (said) say(said);
  return account;
}

/** What every stand-in place is started with. */
interface Standing {
  readonly supervisor: Supervisor;
  readonly dataDir: string;
  readonly clockPort: number;
  /** Where Juncta is for browsers. */
  readonly origins: readonly string[];
  readonly account: Account | null;
}

/** A stand-in place: its own process, folder and ports; the grant is its account's owner's, given beforehand. */
async function startPlace(
  { supervisor, dataDir, clockPort, origins, account }: Standing,
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
  if (account) handOver(env.STANDIN_DIR, account);
  await supervisor.start({
    name,
    start: (log) => nodeProcess(path.join(DIST, `${name}.mjs`), env, log, account),
    ...atHealthz(loopback(port)),
  });
  return { url: loopback(port), grant, rtmpPort };
}

const loopback = (port: number) => `http://127.0.0.1:${port}`;

/** A process of ours is ready once it is well, and lives for as long as it answers anything. */
const atHealthz = (url: string): Pick<Charge, 'ready' | 'answers'> => ({
  ready: () => isWell(`${url}/healthz`),
  answers: () => answers(`${url}/healthz`),
});

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
    const asked = options.rescue ? ['invitation', '--rescue'] : ['invitation'];
    const printed = execFileSync(process.execPath, [path.join(DIST, 'server.mjs'), ...asked], {
      env: { PATH: process.env['PATH'], ...serverEnv },
      encoding: 'utf8',
    });
    const { token } = JSON.parse(printed) as { token: string | null };
    const label = options.rescue ? 'Another producer:' : 'First producer:';
    if (token)
      say(
        `${label.padEnd(18)}${address}/invitation#${token}\n                  (works once, for three days)`,
      );
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
  if (free < SHORT_OF_ROOM_BYTES)
    say(
      `The disk of ${dir} has ${Math.round(free / 1024 ** 2)} MB left: recordings will end when it is full. Feeds go on.`,
    );
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

main().catch((error: unknown) => {
  const full = (error as NodeJS.ErrnoException | null)?.code === 'ENOSPC';
  if (full)
    console.error('The disk is full. Free some room, or name a data folder on another disk with --data.');
  else console.error(error instanceof Failure ? error.message : error);
  process.exit(1);
});
