import { listShows } from '@juncta/contract/shows';
import { sql } from 'drizzle-orm';
import { openHouse, type House } from '../testing/house';

describe('a connection to the database', () => {
  let house: House;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());

  it('that breaks in the middle of a transaction fails it, and the server goes on', async () => {
    const { db } = house.server.app;
    const broken = db.transaction(async (tx) => {
      await tx.execute(sql`select 1`);
      house.database.cut();
      // The break is noticed while nobody asks anything.
      await new Promise((later) => setTimeout(later, 200));
      await tx.execute(sql`select 1`);
    });
    await expectAsync(broken).toBeRejected();
    await house.database.mend();
    for (const endMs = Date.now() + 8000; ;) {
      const { status } = await house.as.host.ask(listShows);
      if (status === 200) break;
      if (Date.now() > endMs) throw new Error(`still ${status}`);
    }
    expect(house.logged.join('')).toContain('a database connection broke');
  });
});
