import { bytesPerMinute, forecastDisk, RESERVE_BYTES } from './disk-forecast';

describe('the disk forecast', () => {
  const minutes = (count: number) => RESERVE_BYTES + count * bytesPerMinute(4000);

  for (const [name, free, planned, level, left] of [
    ['says none below the reserve', RESERVE_BYTES - 1, 60, 'none', 0],
    ['says none when not a minute fits', minutes(0.9), 60, 'none', 0],
    ['says short when the show fits and nothing else', minutes(61), 60, 'short', 61],
    ['says enough with half an hour to spare', minutes(90), 60, 'enough', 90],
    ['counts what is planned as nothing when it is not known', minutes(31), 0, 'enough', 31],
  ] as const) {
    it(name, () => expect(forecastDisk(free, 4000, planned)).toEqual({ level, minutesLeft: left }));
  }

  it('wants a rate', () => expect(() => forecastDisk(1, 0, 0)).toThrowError(RangeError));
});
