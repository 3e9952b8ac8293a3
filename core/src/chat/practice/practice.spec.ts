import type { ExportedMessage } from '../list/export-chat';
import { dueOf, MOST_PRACTICE, planPractice } from './practice';

const message = (atS: number, change: Partial<ExportedMessage> = {}): ExportedMessage => ({
  showTimeMs: atS * 1000,
  writtenAtMs: 1_790_000_000_000 + atS * 1000,
  destination: 'North',
  author: 'Ilse',
  owner: false,
  text: `at ${atS}`,
  standing: 'shown',
  question: 'none',
  kind: 'message',
  takenBack: false,
  accountDays: null,
  ...change,
});
const NORTH = { id: 'n', name: 'North' };
const SOUTH = { id: 's', name: 'South' };

describe('a practice', () => {
  it('gives messages in the order of writing, with silences that nobody has to sit out', () => {
    const { lines, lengthMs } = planPractice([message(70), message(0), message(4), message(4)], [NORTH]);
    expect(lines.map(({ text, atMs }) => [text, atMs])).toEqual([
      ['at 0', 0],
      ['at 4', 4000],
      ['at 4', 4000],
      ['at 70', 19_000],
    ]);
    expect(lengthMs).toBe(19_000);
  });

  it('leaves out what the house wrote, and says how much that was', () => {
    const { lines, ofHouse } = planPractice([message(0, { owner: true }), message(1)], [NORTH]);
    expect(lines.map(({ text, atMs }) => [text, atMs])).toEqual([['at 1', 0]]);
    expect(ofHouse).toBe(1);
  });

  it('gives each where it was written, and what was written elsewhere at the show’s own destinations', () => {
    const { lines, elsewhere } = planPractice(
      [
        message(0, { destination: 'South' }),
        message(1, { destination: 'Gone' }),
        message(2, { destination: 'Lost' }),
        message(3, { destination: 'Gone' }),
      ],
      [NORTH, SOUTH],
    );
    expect(lines.map(({ destinationId }) => destinationId)).toEqual(['s', 'n', 's', 'n']);
    expect(elsewhere).toEqual(['Gone', 'Lost']);
  });

  it('keeps what was done that evening beside it', () => {
    const { lines } = planPractice(
      [
        message(0, { standing: 'hidden' }),
        message(1, { standing: 'aside' }),
        message(2, { question: 'answered' }),
        message(3),
      ],
      [NORTH],
    );
    expect(lines.map(({ notShown, asked }) => [notShown, asked])).toEqual([
      [true, false],
      [true, false],
      [false, true],
      [false, false],
    ]);
  });

  it('has an end', () => {
    const { lines, tooMany } = planPractice(
      Array.from({ length: MOST_PRACTICE + 7 }, (_, i) => message(i)),
      [NORTH],
    );
    expect([lines.length, tooMany]).toEqual([MOST_PRACTICE, 7]);
    expect(planPractice([], [NORTH])).toEqual(jasmine.objectContaining({ lines: [], lengthMs: 0 }));
  });

  it('gives what is due at its pace, each once, and all of it in the end', () => {
    const { lines } = planPractice(
      [0, 1, 1, 5, 9].map((at) => message(at)),
      [NORTH],
    );
    const cases: readonly [practisedMs: number, speed: number, due: number][] = [
      [0, 1, 1],
      [999, 1, 1],
      [1000, 1, 3],
      [2500, 2, 4],
      [1125, 8, 5],
      [1e9, 1, 5],
    ];
    for (const [practisedMs, speed, due] of cases)
      expect(dueOf(lines, practisedMs, speed))
        .withContext(`${practisedMs} at ${speed}`)
        .toBe(due);
    expect(dueOf([], 5000, 1)).toBe(0);
  });
});
