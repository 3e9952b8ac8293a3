import { isOfShow } from './of-show';

describe('isOfShow', () => {
  const OPENED = 1_000_000;
  const table: [string, number, boolean, number | null, boolean][] = [
    ['what the show before left in a lasting chat', OPENED - 60_000, false, OPENED, false],
    ['just before its feed, by a clock that is behind', OPENED - 5000, false, OPENED, true],
    ['a ms earlier', OPENED - 5001, false, OPENED, false],
    ['after its feed began', OPENED + 1, false, OPENED, true],
    ['who waits in the chat of its own event', OPENED - 3_600_000, true, OPENED, true],
    ['where nobody knows when it was opened', OPENED - 60_000, false, null, true],
  ];
  for (const [what, writtenAtMs, hasOwnChat, openedAtMs, is] of table)
    it(`${what}: ${is ? 'of this show' : 'of another'}`, () => {
      expect(isOfShow(writtenAtMs, { hasOwnChat, openedAtMs })).toBe(is);
    });
});
