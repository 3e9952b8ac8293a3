import { renameSync, writeFileSync } from 'node:fs';
import { measureEncodeCost } from './measure-cost';

/** Measures what encoding takes on this machine, and leaves it in the file that is named: for the set-up. */
async function main(file: string): Promise<void> {
  writeFileSync(`${file}.part`, JSON.stringify(await measureEncodeCost()));
  renameSync(`${file}.part`, file);
}

main(process.argv[2]!).catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
