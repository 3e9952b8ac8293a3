/** What came of tests, or of checks that either hold or do not. */
export interface Sum {
  readonly passed: number;
  readonly failed: number;
  /** Switched off in the code, or left out by themselves: not run, and told. */
  readonly skipped: number;
}

export const NOTHING: Sum = { passed: 0, failed: 0, skipped: 0 };

export const add = (a: Sum, b: Sum): Sum => ({
  passed: a.passed + b.passed,
  failed: a.failed + b.failed,
  skipped: a.skipped + b.skipped,
});

/**
 * The sum that a runner wrote, held against how it ended: one that failed without a failed test (a spec that does not
 * compile, a focused one that leaves all others out, no test at all) has failed once.
 */
export function ofRun(written: Sum, status: number): Sum {
  const hasFailed = status !== 0 || written.passed + written.failed === 0;
  return hasFailed && written.failed === 0 ? { ...written, failed: 1 } : written;
}

export function told({ passed, failed, skipped }: Sum): string {
  return `${passed} passed, ${failed} failed` + (skipped > 0 ? `, ${skipped} skipped` : '');
}
