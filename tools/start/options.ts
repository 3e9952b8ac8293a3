import { existsSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { Failure } from '../machine/failure';

export interface Options {
  readonly port: number;
  readonly dataDir: string;
  readonly fresh: boolean;
  readonly demo: boolean;
  /** Prints a link for another producer, whoever there is already. */
  readonly rescue: boolean;
  readonly https: { readonly cert: string; readonly key: string } | null;
}

export const DEFAULT_PORT = 8420;

/** The options of the start command. `root` is the project's folder, `cwd` what paths are relative to. */
export function readOptions(args: string[], root: string, cwd: string): Options {
  // `--https CERT KEY` takes two values, which parseArgs does not know: the second is a positional to it.
  let parsed;
  try {
    parsed = parseArgs({
      args,
      allowPositionals: true,
      options: {
        port: { type: 'string', default: String(DEFAULT_PORT) },
        data: { type: 'string' },
        fresh: { type: 'boolean', default: false },
        'no-demo': { type: 'boolean', default: false },
        rescue: { type: 'boolean', default: false },
        https: { type: 'string' },
      },
    });
  } catch (error) {
    throw new Failure(`${(error as Error).message.split('.')[0]}. ./start --help lists the options.`);
  }
  const { values, positionals } = parsed;
  const port = Number(values.port);
  if (!/^\d+$/.test(values.port) || port < 1 || port > 65535) {
    throw new Failure(`--port takes a number from 1 to 65535, not "${values.port}".`);
  }
  const [key, ...more] = values.https === undefined ? [undefined, ...positionals] : positionals;
  if (more.length > 0) throw new Failure(`"${more[0]}" is not an option. ./start --help lists them.`);
  if (values.https !== undefined && key === undefined) {
    throw new Failure('--https takes two files: the certificate and its key.');
  }
  if (values.rescue && !values['no-demo'])
    throw new Failure('--rescue is for a house without the demo: name --no-demo and its data folder too.');
  const resolve = (file: string) => path.resolve(cwd, file);
  const https =
    values.https !== undefined && key !== undefined
      ? { cert: resolve(values.https), key: resolve(key) }
      : null;
  for (const file of https ? [https.cert, https.key] : []) {
    if (!existsSync(file)) throw new Failure(`There is no file ${file}.`);
  }
  return {
    port,
    dataDir: values.data === undefined ? path.join(root, '.data') : resolve(values.data),
    fresh: values.fresh,
    demo: !values['no-demo'],
    rescue: values.rescue,
    https,
  };
}
