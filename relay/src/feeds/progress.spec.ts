import { Progress } from './progress';

describe('a place that is sent to', () => {
  const from = (nowMs: number) => {
    const progress = new Progress();
    progress.begin(nowMs);
    return progress;
  };

  it('stalls when something waits and nothing is taken for eight seconds', () => {
    const progress = from(1000);
    expect(progress.stalls(1000, 500, 100)).toBeFalse();
    expect(progress.stalls(9000, 500, 900)).toBeFalse();
    expect(progress.stalls(9001, 500, 900)).toBeTrue();
    expect(progress.stalls(9100, 501, 900))
      .withContext('it takes again')
      .toBeFalse();
  });

  it('does not stall while there is nothing to take', () => {
    const progress = from(0);
    expect(progress.stalls(60_000, 0, 0)).toBeFalse();
    expect(progress.stalls(67_000, 0, 5))
      .withContext('counted from when it had all')
      .toBeFalse();
  });
});
