import { putMark, removeMark } from '@juncta/contract/marks';
import { readProgramme } from '@juncta/contract/programme';
import { withShowAtPlace } from '../testing/show-at-place';
import { until } from '../testing/until';

describe('a marked moment', () => {
  const at = withShowAtPlace({ started: true });
  const params = (markId: string) => ({ showId: at.showId, markId });
  const marks = async () =>
    (await at.house.as.host.get(readProgramme, { params: { showId: at.showId } })).marks;
  const put = (markId: string, words = '') =>
    at.house.as.moderator.get(putMark, { params: params(markId), body: { words } });

  it('is of the show as it runs, stays where it is when it is named, and can be taken away', async () => {
    at.relay.change(at.showId, { showTimeMs: 61_500 });
    const [one, two] = [crypto.randomUUID(), crypto.randomUUID()];
    await until('the show runs', async () => (await put(one).catch(() => null)) !== null);
    at.relay.change(at.showId, { showTimeMs: 90_000 });
    await until('time goes on', async () => {
      const { programme } = await at.house.as.host.get(readProgramme, { params: { showId: at.showId } });
      return programme?.showTimeMs === 90_000;
    });
    await put(one, 'The mill by the weir');
    await put(two);
    expect((await marks()).map(({ showTimeMs, words, by }) => [showTimeMs, words, by])).toEqual([
      [61_500, 'The mill by the weir', at.house.members.moderator.name],
      [90_000, '', at.house.members.moderator.name],
    ]);
    await at.house.as.host.get(removeMark, { params: params(two) });
    await at.house.as.host.get(removeMark, { params: params(two) });
    expect((await marks()).length).toBe(1);
  });

  it('is none while the show does not run', async () => {
    at.relay.change(at.showId, { showTimeMs: null });
    const asked = { params: params(crypto.randomUUID()), body: { words: '' } };
    await until('that is known', async () => {
      const { programme } = await at.house.as.host.get(readProgramme, { params: { showId: at.showId } });
      return programme?.showTimeMs === null;
    });
    expect((await at.house.as.moderator.refused(putMark, asked)).code).toBe('not_ready');
  });
});
