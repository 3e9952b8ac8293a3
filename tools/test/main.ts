import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { buildAll, ROOT } from '../build/main';
import { Failure } from '../machine/failure';
import { freePort } from '../machine/ports';
import { startTestCluster } from './cluster';
import { startHouse } from './house';
import { add, NOTHING, ofRun, told, type Sum } from './sums';

/**
 * Every test of the project. `--quick` leaves out the end-to-end tests.
 * Works in `.test` and on ports of its own, beside whatever else runs here. The last line is the sum.
 */

const WORK = path.join(ROOT, '.test');
const TYPE_CHECKED = ['core', 'contract', 'runtime', 'server', 'relay', 'standins', 'tools', 'e2e'];
/** What has not changed since it was looked at last is not looked at again. */
const CHECK_FORMAT = [
  ...['--check', '--log-level', 'warn'],
  ...['--cache', '--cache-strategy', 'content', '--cache-location', path.join(WORK, 'format')],
];
/** The relay's specs wait for pictures that come in their own time; the others hardly wait at all. */
const RELAY_SPECS = 'relay/**/*.spec.ts';
const OTHER_SPECS = '{core,contract,runtime,server,standins,tools}/**/*.spec.ts';
/** Whatever takes longer hangs, and should say so while there is time: the slowest machine seen took half as long. */
const STAGE_LIMIT_MS = 50 * 60_000;

const quick = process.argv.includes('--quick');
/** Checks of the code as it stands (format, types, lint) are no tests of what it does. */
const totals = { tests: NOTHING, checks: NOTHING };
/** Specs that failed, told again where the output ends: a long run's beginning may be cut off. */
const failures: string[] = [];

async function main(): Promise<void> {
  mkdirSync(WORK, { recursive: true });
  const cluster = startTestCluster(path.join(WORK, 'specs'));
  // Whoever needs it says so when it did not start.
  cluster.catch(() => undefined);
  const specs = (name: string, files: string) =>
    stage(name, async () => nodeSpecs(name, files, (await cluster).url));
  try {
    // A lane for each core.
    await Promise.all([
      inOrder(
        () => check('format', ['npx', 'prettier', '.', ...CHECK_FORMAT]),
        ...TYPE_CHECKED.map((part) => () => check(`types of ${part}`, ['npx', 'tsc', '-p', part])),
        () => specs('core, contract, runtime, server, standins and tools', OTHER_SPECS),
        () => stage('web', webSpecs),
      ),
      inOrder(
        () => check('lint', ['npx', 'eslint', '.', '--max-warnings', '0']),
        () => specs('relay', RELAY_SPECS),
      ),
    ]);
  } finally {
    await (await cluster.catch(() => null))?.stop();
  }
  if (!quick) await stage('end to end', endToEnd);
  if (failures.length > 0)
    console.log(`\nSpecs that failed:\n${failures.map((one) => `- ${one}`).join('\n')}`);
  const { tests, checks } = totals;
  const all = add(tests, checks);
  console.log(`\ntests: ${told(tests)}\nchecks: ${told(checks)}\n${all.passed} passed, ${all.failed} failed`);
  process.exitCode = all.failed > 0 || tests.passed === 0 ? 1 : 0;
}

async function inOrder(...acts: (() => Promise<void>)[]): Promise<void> {
  for (const act of acts) await act();
}

/** A command that either holds or does not. */
async function check(name: string, command: string[]): Promise<void> {
  const act = async (): Promise<Sum> => {
    const status = await run(command, {}, name);
    return status === 0 ? { ...NOTHING, passed: 1 } : { ...NOTHING, failed: 1 };
  };
  await stage(name, act, 'checks');
}

async function stage(
  name: string,
  act: () => Promise<Sum>,
  kind: keyof typeof totals = 'tests',
): Promise<void> {
  const startedAt = Date.now();
  let sum: Sum;
  try {
    sum = await act();
  } catch (error) {
    console.error(error instanceof Failure ? error.message : error);
    sum = { ...NOTHING, failed: 1 };
  }
  totals[kind] = add(totals[kind], sum);
  const seconds = ((Date.now() - startedAt) / 1000).toFixed(1);
  console.log(`== ${name}: ${told(sum)} (${seconds} s)`);
}

async function nodeSpecs(name: string, files: string, databaseUrl: string): Promise<Sum> {
  const result = path.join(WORK, `specs-${name.split(',')[0]}.json`);
  rmSync(result, { force: true });
  const status = await run(
    [process.execPath, '--import', 'tsx', 'tools/test/jasmine.ts', files],
    { JUNCTA_TEST_DATABASE_URL: databaseUrl, JUNCTA_TEST_RESULT: result },
    name,
  );
  return ofRun(readSum(result), status);
}

async function webSpecs(): Promise<Sum> {
  const result = path.join(WORK, 'web.json');
  rmSync(result, { force: true });
  const status = await run(
    ['npx', 'ng', 'test'],
    { JUNCTA_TEST_RESULT: result, JUNCTA_TEST_PORT: String(await freePort()), NG_CLI_ANALYTICS: 'false' },
    'web',
    path.join(ROOT, 'web'),
  );
  return ofRun(readSum(result), status);
}

async function endToEnd(): Promise<Sum> {
  await buildAll();
  const data = path.join(WORK, 'e2e-data');
  rmSync(data, { recursive: true, force: true });
  const port = await freePort();
  // The same plan of renditions on every machine, however many cores it has.
  const house = await startHouse(port, data, { JUNCTA_ENCODING_CORES: '2' });
  try {
    const report = path.join(WORK, 'e2e.json');
    rmSync(report, { force: true });
    const env = { JUNCTA_E2E_URL: house.url, JUNCTA_E2E_DATA: data };
    const status = await run(['npx', 'playwright', 'test', '--config', 'e2e/playwright.config.ts'], env);
    const { stats } = JSON.parse(readFileSync(report, 'utf8')) as {
      stats: { expected: number; unexpected: number; flaky: number; skipped: number };
    };
    const { expected: passed, unexpected, flaky, skipped } = stats;
    return ofRun({ passed, failed: unexpected + flaky, skipped }, status);
  } finally {
    await house.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

/** Runs a command and gives its exit status. With a name it is quiet unless it fails. */
function run(command: string[], env: NodeJS.ProcessEnv, quietAs?: string, cwd = ROOT): Promise<number> {
  const [program, ...args] = command as [string, ...string[]];
  const child = spawn(program, args, {
    cwd,
    env: { ...process.env, ...env },
    stdio: ['ignore', quietAs ? 'pipe' : 'inherit', quietAs ? 'pipe' : 'inherit'],
    timeout: STAGE_LIMIT_MS,
  });
  const output: string[] = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (text) => output.push(String(text)));
  return new Promise((done) => {
    child.on('error', (error) => output.push(error.message));
    child.on('close', (status) => {
      if (quietAs && status !== 0) console.log(output.join(''));
      done(status ?? 1);
    });
  });
}

/** Of a run that wrote none, nothing. */
function readSum(file: string): Sum {
  if (!existsSync(file)) return NOTHING;
  const written = JSON.parse(readFileSync(file, 'utf8')) as Partial<Sum> & { failures?: string[] };
  failures.push(...(written.failures ?? []));
  return { ...NOTHING, ...written };
}

await main();
