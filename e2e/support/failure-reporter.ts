import type { Reporter, TestCase, TestError, TestResult } from '@playwright/test/reporter';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

const MOST_OF_A_PAGE = 20_000;
const MOST_LINES = 40;
const MOST_LINES_OF_AN_ERROR = 15;
/** Of the logs: this and worse, and what feeds did. */
const WARNING = 40;

/**
 * Says what the page showed and what the house logged when a test failed: where the tests run, this is often all that
 * can be seen afterwards.
 */
export default class FailureReporter implements Reporter {
  private readonly failures: string[] = [];

  onTestEnd(test: TestCase, result: TestResult): void {
    if (result.status === 'passed' || result.status === 'skipped') return;
    console.log(`\n--- ${test.title}: the page when it failed`);
    for (const { name, path: file } of result.attachments) {
      if (name === 'error-context' && file) console.log(pageIn(readFileSync(file, 'utf8')));
    }
    console.log('--- and what the house logged since it began');
    console.log(logged(result.startTime.getTime()).join('\n'));
    this.failures.push([`--- ${test.title}`, ...result.errors.map(inShort)].join('\n'));
  }

  /** Once more at the end, in short: of a long run often only the last lines are kept. */
  onEnd(): void {
    if (this.failures.length > 0) console.log(`\nWhat failed, and why\n${this.failures.join('\n')}`);
  }
}

/** What was wanted and what was there, and the line of the test. */
function inShort({ message, location }: TestError): string {
  const plain = (message ?? '').replace(/\u001b\[[0-9;]*m/g, '');
  const where = location ? `${path.basename(location.file)}:${location.line}\n` : '';
  return where + plain.split('\n').slice(0, MOST_LINES_OF_AN_ERROR).join('\n');
}

/** The page's own tree; the error itself is told elsewhere. */
function pageIn(context: string): string {
  const tree = /```yaml\n([\s\S]*?)```/.exec(context)?.[1] ?? context;
  return tree.length <= MOST_OF_A_PAGE ? tree : `${tree.slice(0, MOST_OF_A_PAGE)}\n...`;
}

interface LogLine {
  readonly level: number;
  readonly time: number;
}

function logged(sinceMs: number): string[] {
  const dataDir = process.env['JUNCTA_E2E_DATA'];
  if (!dataDir) return [];
  const dir = path.join(dataDir, 'logs');
  const lines = readdirSync(dir).flatMap((file) =>
    readFileSync(path.join(dir, file), 'utf8')
      .split('\n')
      .filter((line) => line.startsWith('{')),
  );
  return lines
    .flatMap((line) => read(line))
    .filter(({ time, level, line }) => time >= sinceMs && (level >= WARNING || line.includes('"msg":"feed"')))
    .sort((a, b) => a.time - b.time)
    .slice(-MOST_LINES)
    .map(({ line }) => line.slice(0, 400));
}

/** Nothing for a line that its process did not live to finish. */
function read(line: string): ({ line: string } & LogLine)[] {
  try {
    return [{ line, ...(JSON.parse(line) as LogLine) }];
  } catch {
    return [];
  }
}
