import { FULL_PACE, judgeWindow, type StepDown } from './step-down';

const after = (from: StepDown, ...leftOut: number[]) =>
  leftOut.reduce((step, one) => judgeWindow(step, 150, one), from);

describe('stepping down', () => {
  it('bears what nobody sees', () => expect(after(FULL_PACE, 0, 10, 22, 5).halved).toBeFalse());

  it('bears one bad window: somebody came in', () =>
    expect(after(FULL_PACE, 90, 0, 150, 22, 60, 3).halved).toBeFalse());

  it('halves when too much is left out twice in a row', () =>
    expect(after(FULL_PACE, 23, 23).halved).toBeTrue());

  it('tries all again after a calm while, and not before', () => {
    const halved = after(FULL_PACE, 60, 60);
    expect(after(halved, 0, 0, 0).halved).toBeTrue();
    expect(after(halved, 0, 0, 0, 0).halved).toBeFalse();
    expect(after(halved, 0, 0, 0, 4, 0, 0, 0).halved)
      .withContext('not calm in between')
      .toBeTrue();
    expect(after(halved, 0, 3, 1, 0).halved)
      .withContext('one or two are no strain')
      .toBeFalse();
  });

  it('waits twice as long after each relapse, within reason', () => {
    let step = FULL_PACE;
    const waits: number[] = [];
    for (let relapse = 0; relapse < 7; relapse++) {
      step = after(step, 100, 100);
      let windows = 0;
      for (; step.halved; windows++) step = after(step, 0);
      waits.push(windows);
    }
    expect(waits).toEqual([4, 8, 16, 32, 64, 64, 64]);
  });
});
