import { backoff } from './backoff';
import { retrying } from './retrying';

describe('retrying', () => {
  const policy = backoff({ firstMs: 100, longestMs: 1000, attempts: 4, random: () => 0.5 });
  const run = async (failures: number, mayRetry = true) => {
    const waits: number[] = [];
    let tries = 0;
    const result = await retrying(
      () => (++tries <= failures ? Promise.reject(new Error(`failure ${tries}`)) : Promise.resolve('done')),
      { policy, mayRetry: () => mayRetry, wait: (ms) => Promise.resolve(waits.push(ms)) },
    ).catch((error: unknown) => (error as Error).message);
    return { result, tries, waits };
  };

  for (const [failures, mayRetry, expected] of [
    [0, true, { result: 'done', tries: 1, waits: [] }],
    [2, true, { result: 'done', tries: 3, waits: [100, 200] }],
    [9, true, { result: 'failure 4', tries: 4, waits: [100, 200, 400] }],
    [1, false, { result: 'failure 1', tries: 1, waits: [] }],
  ] as const) {
    it(`${failures} failures${mayRetry ? '' : ' that waiting does not mend'}: ${expected.result}`, async () => {
      expect(await run(failures, mayRetry)).toEqual({ ...expected, waits: [...expected.waits] });
    });
  }
});
