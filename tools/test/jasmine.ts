import Jasmine from 'jasmine';
import { writeFileSync } from 'node:fs';

/** Runs the specs that need no browser. `JUNCTA_TEST_RESULT` names the file for the sum. */
const jasmine = new Jasmine({ projectBaseDir: process.cwd() });
jasmine.addHelperFile('tools/test/patience.ts');
jasmine.loadConfig({
  spec_dir: '.',
  spec_files: process.argv.slice(2),
  random: true,
  failSpecWithNoExpectations: true,
});
jasmine.showColors(false);
const sum = { passed: 0, failed: 0, skipped: 0, failures: [] as string[] };
jasmine.addReporter({
  specDone({ status, fullName, failedExpectations }) {
    if (status === 'passed') sum.passed += 1;
    if (status === 'failed') {
      sum.failed += 1;
      sum.failures.push(`${fullName}: ${failedExpectations[0]?.message ?? 'it failed'}`.slice(0, 600));
    }
    if (status === 'pending' || status === 'excluded') sum.skipped += 1;
  },
  suiteDone({ failedExpectations }) {
    sum.failed += failedExpectations.length;
  },
  jasmineDone({ failedExpectations }) {
    sum.failed += failedExpectations.length;
    const file = process.env['JUNCTA_TEST_RESULT'];
    if (file) writeFileSync(file, JSON.stringify(sum));
  },
});
await jasmine.execute();
