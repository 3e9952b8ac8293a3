import { FULL_PACE, judgeWindow, type StepDown } from './step-down';

const after = (from: StepDown, ...leftOut: number[]) =>
  leftOut.reduce((step, one) => judgeWindow(step, 150, one), from);

describe('stepping down', () => {
  it('bears what nobody sees', () => expect(after(FULL_PACE, 0, 10, 22, 5).drawn).toBe('whole'));

  it('bears one bad window: somebody came in', () =>
    expect(after(FULL_PACE, 90, 0, 150, 22, 60, 3).drawn).toBe('whole'));

  it('draws smaller when too much is left out twice in a row, and halves the frames if that is not enough', () => {
    const smaller = after(FULL_PACE, 23, 23);
    expect(smaller.drawn).toBe('smaller');
    expect(after(smaller, 23, 0, 23, 0).drawn).toBe('smaller');
    const halved = after(smaller, 23, 23);
    expect(halved.drawn).toBe('smaller_halved');
    expect(after(halved, 100, 100, 100, 100).drawn).toBe('smaller_halved');
  });

  it('goes up a step after a calm while, and not before', () => {
    const smaller = after(FULL_PACE, 60, 60);
    expect(after(smaller, 0, 0, 0).drawn).toBe('smaller');
    expect(after(smaller, 0, 0, 0, 0).drawn).toBe('whole');
    expect(after(smaller, 0, 0, 0, 4, 0, 0, 0).drawn)
      .withContext('not calm in between')
      .toBe('smaller');
    expect(after(smaller, 0, 3, 1, 0).drawn)
      .withContext('one or two are no strain')
      .toBe('whole');
    const halved = after(smaller, 60, 60);
    expect(after(halved, 0, 0, 0, 0).drawn)
      .withContext('one step at a time')
      .toBe('smaller');
  });

  it('waits twice as long after each relapse, within reason', () => {
    let step = FULL_PACE;
    const waits: number[] = [];
    for (let relapse = 0; relapse < 7; relapse++) {
      step = after(step, 100, 100);
      let windows = 0;
      for (; step.drawn !== 'whole'; windows++) step = after(step, 0);
      waits.push(windows);
    }
    expect(waits).toEqual([4, 8, 16, 32, 64, 64, 64]);
  });
});
