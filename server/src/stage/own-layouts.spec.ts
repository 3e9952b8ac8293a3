import { dropLayout, keepLayout, MOST_LAYOUTS, readLayouts } from '@juncta/contract/stage';
import { ALL_SHOWS, createSeries } from '@juncta/contract/shows';
import type { OwnPlace } from '@juncta/core/stage';
import { openHouse, type House } from '../testing/house';

describe('layouts of the team’s own', () => {
  let house: House;
  beforeEach(async () => {
    house = await openHouse();
  });
  afterEach(() => house.close());

  const half: OwnPlace = { x: 0, y: 0, width: 0.5, height: 1, kind: 'person' };
  const kept = async () => (await house.as.moderator.get(readLayouts)).layouts;
  const keep = (name: string, values: object = {}, layoutId = crypto.randomUUID()) =>
    house.as.host.ask(keepLayout, {
      params: { layoutId },
      body: { scope: ALL_SHOWS, name, places: [half], ...values },
    });

  it('are kept, replaced and dropped, and told to whoever follows the shows', async () => {
    const id = crypto.randomUUID();
    expect((await house.as.host.get(readLayouts)).seq).toBe(0);
    await keep('Two talk', {}, id);
    await keep('Two talk', {}, id);
    expect(await kept()).toEqual([{ scope: ALL_SHOWS, layout: { id, name: 'Two talk', places: [half] } }]);
    const wider = { ...half, width: 0.6 };
    await keep('Two talk', { places: [wider, { ...half, kind: 'screen' }] }, id);
    expect((await kept())[0]!.layout.places).toEqual([wider, { ...half, kind: 'screen' }]);
    const params = { layoutId: id };
    for (let twice = 0; twice < 2; twice++) await house.as.host.get(dropLayout, { params });
    expect(await kept()).toEqual([]);
    expect((await house.as.host.get(readLayouts)).seq).toBe(4);
  });

  it('have a name of their own among those of the same shows', async () => {
    await keep('Two talk');
    const again = await keep('two TALK');
    expect((again.body as { fields: { sentence: string }[] }).fields[0]!.sentence).toContain(
      'There is a layout called two TALK already.',
    );
    const scope = crypto.randomUUID();
    expect((await keep('Two talk', { scope })).status)
      .withContext('no such series')
      .toBe(404);
    await house.as.producer.get(createSeries, { body: { id: scope, name: 'The Proving Hour' } });
    expect((await keep('Two talk', { scope })).status).toBe(200);
  });

  it('are refused with what is wrong, and beyond what has room', async () => {
    const sentence = async (values: object) =>
      ((await keep('Wrong', values)).body as { fields?: { sentence: string }[] }).fields?.[0]?.sentence;
    expect(await sentence({ places: [] })).toContain('too short');
    expect(await sentence({ places: [{ ...half, x: 0.7 }] })).toContain('reaches beyond the picture');
    expect(await sentence({ places: [{ ...half, width: 0.01 }] })).toContain('too small');
    expect(await sentence({ name: 'x'.repeat(25) })).toContain('too long');
    for (let n = 0; n < MOST_LAYOUTS; n++) expect((await keep(`Layout ${n}`)).status).toBe(200);
    expect(((await keep('One more')).body as { sentence: string }).sentence).toContain('Remove one');
  });
});
