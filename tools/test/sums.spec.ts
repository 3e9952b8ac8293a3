import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { add, NOTHING, ofRun, told, type Sum } from './sums';

describe('the sum of a run', () => {
  const sum = (passed: number, failed = 0, skipped = 0): Sum => ({ passed, failed, skipped });
  const CASES: readonly (readonly [string, Sum, number, Sum])[] = [
    ['all passed', sum(5), 0, sum(5)],
    ['some failed', sum(5, 2), 1, sum(5, 2)],
    ['it ended badly, and no test failed', sum(5), 2, sum(5, 1)],
    ['there was no test', sum(0), 0, sum(0, 1)],
    ['every test was skipped', sum(0, 0, 3), 0, sum(0, 1, 3)],
  ];
  for (const [when, written, status, wanted] of CASES) {
    it(`is right when ${when}`, () => expect(ofRun(written, status)).toEqual(wanted));
  }

  it('is told, with what was skipped where something was', () => {
    expect(told(add(sum(3), sum(2, 1)))).toBe('5 passed, 1 failed');
    expect(told(add(NOTHING, sum(2, 0, 1)))).toBe('2 passed, 0 failed, 1 skipped');
  });
});

/** The runner itself, on specs written for it. */
describe('the runner of specs', () => {
  let dir: string;
  beforeEach(() => (dir = mkdtempSync(path.join(tmpdir(), 'juncta-runner-'))));
  afterEach(() => rmSync(dir, { recursive: true }));

  const run = (spec: string): { status: number; sum: Sum & { failures: string[] } } => {
    const [file, result] = [path.join(dir, 'one.spec.js'), path.join(dir, 'sum.json')];
    writeFileSync(file, spec);
    const args = ['--import', 'tsx', 'tools/test/jasmine.ts', path.relative(process.cwd(), file)];
    const env = { ...process.env, JUNCTA_TEST_RESULT: result };
    const { status } = spawnSync(process.execPath, args, { env, encoding: 'utf8' });
    return { status: status!, sum: JSON.parse(readFileSync(result, 'utf8')) as Sum & { failures: string[] } };
  };

  it('fails where one spec is focused, which leaves the others out', () => {
    const { status, sum } = run("fit('a', () => expect(1).toBe(1)); it('b', () => expect(1).toBe(2));");
    expect(ofRun(sum, status)).toEqual({ passed: 1, failed: 1, skipped: 1, failures: [] } as Sum);
  });

  it('counts what is switched off', () => {
    const { status, sum } = run("it('a', () => expect(1).toBe(1)); xit('b', () => {}); it('c');");
    expect(ofRun(sum, status)).toEqual({ passed: 1, failed: 0, skipped: 2, failures: [] } as Sum);
  });

  it('names what failed, and why', () => {
    expect(run("describe('x', () => it('a', () => expect(1).toBe(2)));").sum.failures).toEqual([
      'x a: Expected 1 to be 2.',
    ]);
  });

  it('fails where a spec expects nothing, or is broken', () => {
    expect(run("it('a', () => {});").sum.failed).toBe(1);
    const { status } = run("it('a', () => expect(1).toBe(1)); throw new Error('broken');");
    expect(status).not.toBe(0);
  });
});
