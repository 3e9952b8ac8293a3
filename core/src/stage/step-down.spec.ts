import { FULL_PACE, judgeWindow, type StepDown } from './step-down';

const after = (from: StepDown, ...leftOut: number[]) =>
  leftOut.reduce((step, one) => judgeWindow(step, 150, one), from);

describe('stepping down', () => {
  it('bears what nobody sees', () => expect(after(FULL_PACE, 0, 10, 22, 5).halved).toBeFalse());

  it('halves at once when too much is left out', () => expect(after(FULL_PACE, 23).halved).toBeTrue());

  it('tries all again after a calm while, and not before', () => {
    const halved = after(FULL_PACE, 60);
    expect(after(halved, 0, 0, 0).halved).toBeTrue();
    expect(after(halved, 0, 0, 0, 0).halved).toBeFalse();
    expect(after(halved, 0, 0, 0, 1, 0, 0, 0).halved)
      .withContext('not calm in between')
      .toBeTrue();
  });

  it('waits twice as long after each relapse, within reason', () => {
    let step = FULL_PACE;
    const waits: number[] = [];
    for (let relapse = 0; relapse < 7; relapse++) {
      step = after(step, 100);
      let windows = 0;
      for (; step.halved; windows++) step = after(step, 0);
      waits.push(windows);
    }
    expect(waits).toEqual([4, 8, 16, 32, 64, 64, 64]);
  });
});
