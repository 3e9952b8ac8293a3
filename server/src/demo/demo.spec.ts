import { phaseAt } from '@juncta/core/shows';
import { listShows, saveShow } from '@juncta/contract/shows';
import { listDemoAccounts, signInToDemo } from '@juncta/contract/team';
import { openHouse, type House } from '../testing/house';
import { refreshDemo } from './seed';
import { setTo, REAL_SETTING } from '@juncta/core/clock';

describe('the demo', () => {
  let house: House;
  beforeEach(async () => {
    house = await openHouse({ demo: true });
    const { accounts } = await house.as.producer.get(listDemoAccounts);
    const producer = accounts.find(({ role }) => role === 'producer')!;
    await house.as.producer.get(signInToDemo, { body: { memberId: producer.id } });
  });
  afterEach(() => house.close());

  const shows = async () => (await house.as.producer.get(listShows)).shows;
  const readyShow = async () => (await shows()).find((show) => show.id.endsWith('01'))!;

  it('has a show that is over, one ready to go on air, and some to come', async () => {
    const now = house.server.app.clock.now();
    const phases = (await shows())
      .filter((show) => show.archivedAtMs === null)
      .map((show) => phaseAt(show, now).phase);
    for (const phase of ['ready', 'wrap', 'plan', 'prepare'] as const) expect(phases).toContain(phase);
  });

  it('is not filled twice', async () => {
    const before = await shows();
    await refreshDemo(house.server.app);
    expect(await shows()).toEqual(before);
  });

  it('makes the ready show ready again when its time went by, and keeps what was written in it', async () => {
    const show = await readyShow();
    const text = { ...show.text, title: 'Tried out' };
    await house.as.producer.get(saveShow, {
      params: { showId: show.id },
      body: { version: show.version, text },
    });
    const { clock } = house.server.app;
    clock.adopt(setTo(REAL_SETTING, Date.now(), Date.now() + 3 * 86_400_000));
    await refreshDemo(house.server.app);
    const again = await readyShow();
    expect(again.text.title).toBe('Tried out');
    expect(phaseAt(again, clock.now())).toEqual(jasmine.objectContaining({ phase: 'ready', overdue: false }));
  });
});
