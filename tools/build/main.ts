import { build as bundle } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { Failure } from '../machine/failure';
import { compressFolder } from './compress';

/**
 * Builds what has changed since it was last built, into `dist/`: the processes as one file each (packages stay
 * outside), and the web application. `--force` builds all.
 */
export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../..');
export const DIST = path.join(ROOT, 'dist');

const PROCESSES = {
  server: 'server/src/main.ts',
  relay: 'relay/src/main.ts',
  'measure-encoding': 'relay/src/renditions/measure-main.ts',
  'finish-recording': 'relay/src/recordings/finish-main.ts',
  'rehearsal-clock': 'standins/src/clock/main.ts',
  emberplay: 'standins/src/emberplay/main.ts',
  kitefield: 'standins/src/kitefield/main.ts',
  porchway: 'standins/src/porchway/main.ts',
  guildroad: 'standins/src/guildroad/main.ts',
  'stand-in-guests': 'standins/src/guests/main.ts',
  'stand-in-encoders': 'standins/src/encoders/main.ts',
} as const;

/** What each output is made from; when none of it has changed, neither has the output. */
const NODE_INPUTS = [
  ...['core', 'contract', 'runtime', 'server', 'relay', 'standins'],
  ...['tools/build', 'package-lock.json'],
];
const WEB_INPUTS = ['core', 'contract', 'web', 'tools/build', 'package-lock.json'];

export async function buildAll(force = false, say: (text: string) => void = console.log): Promise<void> {
  await onChange('node', NODE_INPUTS, force, () => {
    say('Building the server and its fellow processes');
    return buildProcesses();
  });
  await onChange('web', WEB_INPUTS, force, () => {
    say('Building the web application');
    return buildWeb();
  });
}

async function buildProcesses(): Promise<void> {
  await bundle({
    entryPoints: Object.entries(PROCESSES).map(([out, entry]) => ({ in: path.join(ROOT, entry), out })),
    outdir: DIST,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: true,
    plugins: [
      {
        // Packages stay outside; our own workspaces, which are sources, go in.
        name: 'packages-outside',
        setup: (build) =>
          build.onResolve({ filter: /^[^./]/ }, ({ path: name, kind }) =>
            kind === 'entry-point' || name.startsWith('@juncta/')
              ? undefined
              : { external: true, path: name },
          ),
      },
    ],
    logLevel: 'warning',
  });
  rmSync(path.join(DIST, 'migrations'), { recursive: true, force: true });
  cpSync(path.join(ROOT, 'server/migrations'), path.join(DIST, 'migrations'), { recursive: true });
}

async function buildWeb(): Promise<void> {
  const ng = path.join(ROOT, 'node_modules/@angular/cli/bin/ng.js');
  const built = spawnSync(process.execPath, [ng, 'build', '--no-progress'], {
    cwd: path.join(ROOT, 'web'),
    // Many small chunks make a chain of requests before the first page; this joins those that are always asked for together.
    env: { ...process.env, NG_CLI_ANALYTICS: 'false', CI: 'true', NG_BUILD_OPTIMIZE_CHUNKS: 'true' },
    encoding: 'utf8',
  });
  if (built.status !== 0)
    throw new Failure(`The web application could not be built.\n${built.stdout}${built.stderr}`);
  compressFolder(path.join(DIST, 'web', 'browser'));
}

async function onChange(
  name: string,
  inputs: string[],
  force: boolean,
  make: () => Promise<void>,
): Promise<void> {
  const stamp = path.join(DIST, `.${name}-inputs`);
  const hash = createHash('sha256');
  for (const input of inputs) hashFiles(path.join(ROOT, input), hash);
  const now = hash.digest('hex');
  if (!force && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  mkdirSync(DIST, { recursive: true });
  rmSync(stamp, { force: true });
  await make();
  writeFileSync(stamp, now);
}

const PASSED_OVER = /(^|\/)(node_modules|dist|\.angular|[^/]*\.spec\.ts)$/;

function hashFiles(at: string, hash: ReturnType<typeof createHash>): void {
  if (PASSED_OVER.test(at)) return;
  let names: string[];
  try {
    names = readdirSync(at);
  } catch {
    hash.update(path.relative(ROOT, at)).update(readFileSync(at));
    return;
  }
  for (const name of names.sort()) hashFiles(path.join(at, name), hash);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  buildAll(process.argv.includes('--force')).catch((error: unknown) => {
    console.error(error instanceof Failure ? error.message : error);
    process.exit(1);
  });
}
