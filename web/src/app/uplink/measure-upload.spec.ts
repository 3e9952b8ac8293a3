import { measureUpload } from './measure-upload';
import { FakeLine, fakeLines } from '../testing/uplink';

describe('the measuring of the upload', () => {
  let undo: () => void;
  let nowMs: number;
  beforeEach(() => {
    jasmine.clock().install();
    nowMs = 1000;
    spyOn(performance, 'now').and.callFake(() => nowMs);
    undo = fakeLines();
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    undo();
  });

  async function begin(): Promise<{ line: FakeLine; answer: Promise<number> }> {
    const answer = measureUpload('ws://relay.invalid/uplink', 'a.ticket');
    answer.catch(() => undefined);
    await Promise.resolve();
    return { line: FakeLine.all[0]!, answer };
  }

  it('counts what has come over there, once the line is at its speed', async () => {
    const { line, answer } = await begin();
    expect(line.said).toEqual([{ type: 'measure', ticket: 'a.ticket' }]);
    line.answer({ type: 'welcome' });
    // 100 kB in the first second, while it warms up; then 500 kB/s.
    let there = 0;
    for (let tenths = 1; tenths <= 45; tenths++) {
      nowMs += 100;
      there += tenths <= 7 ? 10_000 : 50_000;
      line.answer({ type: 'measured', bytes: there });
    }
    expect(await answer).toBe(4000);
    expect(line.closed).toBeTrue();
  });

  it('has never more on its way than a slow line can be rid of', async () => {
    const { line } = await begin();
    line.answer({ type: 'welcome' });
    expect(line.bytes).toBeLessThan(2_100_000);
    nowMs += 100;
    line.answer({ type: 'measured', bytes: 64_000 });
    expect(line.bytes).toBeGreaterThan(2_000_000);
    expect(line.bytes - 64_000).toBeLessThan(2_100_000);
  });

  it('gives up on a line that carries nothing', async () => {
    const { line, answer } = await begin();
    line.answer({ type: 'welcome' });
    jasmine.clock().tick(12_000);
    await expectAsync(answer).toBeRejectedWithError(/did not answer/);
    expect(line.closed).toBeTrue();
  });

  it('says so when the relay closes the line or says no', async () => {
    const { line, answer } = await begin();
    line.break();
    await expectAsync(answer).toBeRejectedWithError(/did not answer/);
    undo();
    undo = fakeLines();
    const again = await begin();
    again.line.answer({ type: 'refused', code: 'ticket', sentence: 'No.' });
    await expectAsync(again.answer).toBeRejectedWithError(/did not answer/);
  });
});
