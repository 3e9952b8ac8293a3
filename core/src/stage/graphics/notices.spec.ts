import type { BoxedMessage } from './chat-box';
import { NOTHING_SAID, passNotices, sayNotices, type NoticesSaid } from './notices';

describe('what is said of followers and sales', () => {
  const told = (id: string, values: Partial<BoxedMessage> = {}): BoxedMessage => ({
    id,
    destinationId: 'd',
    kind: 'follow',
    standing: 'shown',
    takenBack: false,
    writtenAtMs: 0,
    ...values,
  });
  type Said = NoticesSaid<BoxedMessage>;
  const idsOf = ({ said }: Said) => said.map(({ id }) => id);
  const at = (before: Said, nowMs: number, ...came: BoxedMessage[]) => sayNotices(before, came, 5000, nowMs);

  it('is one after another, each for its time', () => {
    let now = at(NOTHING_SAID, 0, told('a'), told('b'));
    expect([idsOf(now), now.untilMs]).toEqual([['a'], 5000]);
    now = at(now, 4999);
    expect(idsOf(now)).toEqual(['a']);
    now = at(now, 5000);
    expect([idsOf(now), now.untilMs]).toEqual([['b'], 10_000]);
    now = at(now, 10_000);
    expect(idsOf(now)).toEqual([]);
  });

  it('is said together when many come at once, sales apart from followers', () => {
    const sale = told('sale', { kind: 'sale' });
    let now = at(NOTHING_SAID, 0, told('a'), told('b'), sale, told('c'));
    expect(idsOf(now)).toEqual(['a', 'b', 'c']);
    now = at(now, 5000);
    expect(idsOf(now)).toEqual(['sale']);
  });

  it('is never said twice, and nothing of what viewers may not see', () => {
    let now = at(
      NOTHING_SAID,
      0,
      told('a'),
      told('held', { standing: 'aside' }),
      told('chat', { kind: 'message' }),
    );
    now = at(now, 5000, told('a'));
    expect(idsOf(now)).toEqual([]);
    now = at(now, 6000, told('held'));
    expect(idsOf(now)).withContext('let through later').toEqual(['held']);
  });

  it('leaves at once when it is hidden or taken back, said or waiting', () => {
    let now = at(NOTHING_SAID, 0, told('a'), told('b'));
    now = at(now, 100, told('b', { standing: 'hidden' }), told('a', { takenBack: true }));
    expect([idsOf(now), now.waiting]).toEqual([[], []]);
  });

  it('is not said later of what came while nothing was to be said', () => {
    let now: Said = passNotices(NOTHING_SAID, [told('a'), told('chat', { kind: 'message' })]);
    now = at(now, 0, told('a'), told('b'));
    expect(idsOf(now)).toEqual(['b']);
    now = passNotices(now, []);
    expect(idsOf(at(now, 1, told('b')))).toEqual([]);
  });
});
