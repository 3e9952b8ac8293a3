import { DRESSING_OF_TEAM, dropDressing, readDressings, saveDressing } from '@juncta/contract/dressing';
import { createSeries } from '@juncta/contract/shows';
import { MANNERS, PLAIN_DRESSING, type Dressing } from '@juncta/core/dressing';
import { openHouse, type House } from '../testing/house';

describe('dressings', () => {
  let house: House;
  let seriesId: string;
  beforeEach(async () => {
    house = await openHouse();
    seriesId = crypto.randomUUID();
    await house.as.producer.get(createSeries, { body: { id: seriesId, name: 'The Proving Hour' } });
  });
  afterEach(() => house.close());

  const read = () => house.as.moderator.get(readDressings);
  const save = (scope: string, version: string, dressing: Dressing) => ({
    params: { scope },
    body: { version, dressing },
  });
  const rust: Dressing = {
    ...PLAIN_DRESSING,
    palette: { ...PLAIN_DRESSING.palette, accent: '#B4532a' },
    manner: 'cut',
    bug: { text: 'The Proving Hour', corner: 'top_left' },
  };

  it('are the plain one until somebody saves another, for all shows or for one series', async () => {
    const { team, bySeries } = await read();
    expect([team.dressing, bySeries]).toEqual([PLAIN_DRESSING, {}]);
    const own = await house.as.host.get(saveDressing, save(seriesId, team.version, rust));
    expect(own.dressing).toEqual(rust);
    const lines: Dressing = { ...PLAIN_DRESSING, backdrop: 'plain' };
    await house.as.host.get(saveDressing, save(DRESSING_OF_TEAM, team.version, lines));
    const after = await read();
    expect([after.team.dressing, after.bySeries[seriesId]]).toEqual([lines, own]);
    expect(after.seq).toBeGreaterThan(0);
    // Back to what all shows have.
    const dropped = await house.as.host.get(dropDressing, { params: { scope: seriesId } });
    expect(dropped).toEqual({ team: after.team, bySeries: {} });
  });

  it('are not overwritten by somebody who had not seen them, and the same save twice is one', async () => {
    const { team } = await read();
    const saved = await house.as.host.get(saveDressing, save(seriesId, team.version, rust));
    const late = save(seriesId, team.version, { ...rust, manner: 'rail' });
    const refusal = await house.as.producer.refused(saveDressing, late);
    expect([refusal.code, refusal.current]).toEqual(['changed_meanwhile', saved]);
    expect(await house.as.host.get(saveDressing, save(seriesId, saved.version, rust))).toEqual(saved);
  });

  it('are changed by whoever may plan, of what there is', async () => {
    const { team } = await read();
    expect((await house.as.moderator.refused(saveDressing, save('team', team.version, rust))).code).toBe(
      'forbidden',
    );
    const nowhere = save(crypto.randomUUID(), team.version, rust);
    expect((await house.as.host.refused(saveDressing, nowhere)).code).toBe('not_found');
  });

  const WRONG: readonly [string, string, object][] = [
    [
      'a colour with something behind it',
      'dressing.palette.accent',
      { palette: { ...rust.palette, accent: '#b4532a;x' } },
    ],
    ['a colour by name', 'dressing.palette.ink', { palette: { ...rust.palette, ink: 'red' } }],
    [
      'a typeface that does not ship',
      'dressing.faces.text',
      { faces: { heading: 'Bitter', text: 'Somebody’s' } },
    ],
    ['a manner that nobody draws', 'dressing.manner', { manner: 'bounce' }],
    [
      'words longer than a corner',
      'dressing.bug.text',
      { bug: { text: 'x'.repeat(25), corner: 'top_left' } },
    ],
    ['an empty slate', 'dressing.slate', { slate: '' }],
  ];
  for (const [what, field, values] of WRONG) {
    it(`are refused with ${what}, which is named`, async () => {
      const { team } = await read();
      const wrong = save(DRESSING_OF_TEAM, team.version, { ...rust, ...values });
      const refusal = await house.as.host.refused(saveDressing, wrong);
      expect([refusal.code, refusal.fields?.map((one) => one.field)]).toEqual(['bad_input', [field]]);
      expect((await read()).team.dressing).toEqual(PLAIN_DRESSING);
    });
  }

  it('come in every manner that core knows', async () => {
    let { version } = (await read()).team;
    for (const manner of MANNERS)
      ({ version } = await house.as.host.get(saveDressing, save('team', version, { ...rust, manner })));
    expect((await read()).team.dressing.manner).toBe(MANNERS.at(-1)!);
  });
});
