import { finishRun } from './finish';
import { Run } from './run';

/**
 * `node finish-recording.mjs FOLDER` makes the files of the run in that folder and answers its parent with what became of
 * them. A process of its own, at a low priority: reading and joining hours of show must not hold up what is on air. It
 * ends with its parent.
 */
const [dir] = process.argv.slice(2);
if (dir === undefined || !process.send) {
  process.stderr.write('To be started by the relay, with the folder of a run.\n');
  process.exit(2);
}
const parentGone = new AbortController();
process.on('disconnect', () => parentGone.abort());
process.on('SIGTERM', () => parentGone.abort());

try {
  const result = await finishRun(Run.read(dir), parentGone.signal);
  const peakMb = Math.round(process.resourceUsage().maxRSS / 1024);
  process.send({ ...result, peakMb }, () => process.exit(0));
} catch (error) {
  if (!parentGone.signal.aborted)
    process.stderr.write(`${error instanceof Error ? error.stack : String(error)}\n`);
  process.exit(1);
}
