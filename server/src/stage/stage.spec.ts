import { streamOf } from '@juncta/contract/events';
import { changeStage, MOST_CHANGES, readStage } from '@juncta/contract/stage';
import { EMPTY_STAGE, placedIn, sourceId, type StageChange } from '@juncta/core/stage';
import { eventsAfter } from '../events/store';
import { createShow } from '@juncta/contract/shows';
import { endShow } from '@juncta/contract/programme';
import { withShowAtPlace } from '../testing/show-at-place';
import { openHouse, showText, type House } from '../testing/house';

const [A, B] = [sourceId('camera', crypto.randomUUID()), sourceId('screen', crypto.randomUUID())];
const on = (source: typeof A): StageChange => ({ type: 'scene', event: { type: 'bring_on', source } });

describe('the stage of a show', () => {
  let house: House;
  let showId: string;
  beforeAll(async () => {
    house = await openHouse();
  });
  afterAll(() => house.close());
  beforeEach(async () => {
    showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
  });
  const params = () => ({ showId });
  const read = async () => (await house.as.host.get(readStage, { params: params() })).known;
  const change = (...changes: { id: string; change: StageChange }[]) =>
    house.as.producer.get(changeStage, { params: params(), body: { changes } });
  const as = (change: StageChange, id: string = crypto.randomUUID()) => ({ id, change });

  it('is empty before anybody touched it, and then as it was left', async () => {
    expect(await read()).toEqual({ version: 0, stage: EMPTY_STAGE });
    await change(as(on(A)), as({ type: 'arm' }), as(on(B)));
    const { version, stage } = await read();
    expect([version, placedIn(stage.programme), placedIn(stage.armed!)]).toEqual([1, [A], [A, B]]);
  });

  it('carries out a change once, however often it is given', async () => {
    const [first, second] = [as({ type: 'arm' }), as({ type: 'take', takes: 0 })];
    await change(first, second);
    const { known, refused } = await change(first, second, as(on(A)));
    expect([refused, known.stage.takes, known.version]).toEqual([[], 1, 2]);
    const nothing = await change(first);
    expect(nothing.known.version).withContext('no event of nothing').toBe(2);
  });

  it('lets one of two desks take that take at the same moment, and tells the other', async () => {
    await change(as(on(A)), as({ type: 'arm' }), as(on(B)));
    const takes = [1, 2].map(() => as({ type: 'take', takes: 0 }));
    const answers = await Promise.all(takes.map((take) => change(take)));
    expect(answers.flatMap(({ refused }) => refused.map(({ reason }) => reason))).toEqual(['taken_before']);
    const { stage } = await read();
    expect([stage.takes, placedIn(stage.programme)]).toEqual([1, [A, B]]);
  });

  it('counts the points of two desks that count at the same moment', async () => {
    const point: StageChange = { type: 'graphics', change: { type: 'points', side: 0, by: 1 } };
    await Promise.all([change(as(point)), change(as(point))]);
    expect((await read()).stage.graphics.score.points).toEqual([2, 0]);
  });

  it('carries out what it can of what a desk gives together', async () => {
    const wrong = as({ type: 'take', takes: 0 });
    const { refused, known } = await change(wrong, as(on(A)));
    expect(refused).toEqual([{ id: wrong.id, reason: 'nothing_armed' }]);
    expect(placedIn(known.stage.programme)).toEqual([A]);
  });

  it('tells whoever follows, in the order of the changes', async () => {
    const given = [as(on(A)), as(on(B))];
    for (const one of given) await change(one);
    const events = await eventsAfter(house.server.app.db, streamOf('stage', showId), 0);
    const told = events.flatMap((event) => (event.type === 'stage.changed' ? [event.payload] : []));
    expect(told.map(({ known, done }) => [known.version, done])).toEqual(
      given.map(({ id }, i) => [i + 1, [id]]),
    );
    expect(told.at(-1)!.known).toEqual(await read());
  });

  it('is driven by whoever runs the show, and seen by whoever may open its desk', async () => {
    const asked = { params: params(), body: { changes: [as(on(A))] } };
    expect((await house.as.moderator.refused(changeStage, asked)).code).toBe('forbidden');
    expect((await read()).version).toBe(0);
    const unknown = { showId: crypto.randomUUID() };
    expect((await house.as.host.refused(readStage, { params: unknown })).code).toBe('not_found');
    const nowhere = { params: unknown, body: { changes: [as(on(A))] } };
    expect((await house.as.host.refused(changeStage, nowhere)).code).toBe('not_found');
  });

  it('refuses at the door what is no source, no layout, no time for a mix, and too much', async () => {
    const refusals: StageChange[] = [
      on('camera:<b>:1'),
      on(`camera:${'x'.repeat(300)}:1`),
      { type: 'scene', event: { type: 'layout', layout: 'mosaic' as 'row' } },
      { type: 'transition', transition: { kind: 'mix', ms: 20_000 } },
    ];
    const graphic = (change: unknown) => ({ type: 'graphics', change }) as StageChange;
    refusals.push(
      graphic({ type: 'ticker', values: { lines: ['x'.repeat(141)] } }),
      graphic({ type: 'ticker', values: { lines: ['two\nlines'] } }),
      graphic({ type: 'ticker', values: { lines: Array.from({ length: 21 }, () => 'x') } }),
      graphic({ type: 'clock', values: { zone: 'Elsewhere/Nowhere' } }),
      graphic({ type: 'score', values: { names: ['x'.repeat(19), ''] } }),
      graphic({ type: 'link', values: { address: 'javascript:alert(1)' } }),
      graphic({ type: 'link', values: { address: 'https://user@mill.example' } }),
      graphic({ type: 'link', values: { line: 'x'.repeat(61) } }),
      graphic({ type: 'chat', values: { most: 0 } }),
      graphic({ type: 'chat', values: { staysS: 4 } }),
      graphic({ type: 'points', side: 2, by: 1 }),
      graphic({ type: 'points', side: 0, by: 0.5 }),
    );
    for (const wrong of refusals) {
      const asked = { params: params(), body: { changes: [as(wrong)] } };
      expect((await house.as.host.refused(changeStage, asked)).code).toBe('bad_input');
    }
    const many = Array.from({ length: MOST_CHANGES + 1 }, () => as({ type: 'arm' }));
    const tooMany = { params: params(), body: { changes: many } };
    expect((await house.as.host.refused(changeStage, tooMany)).code).toBe('bad_input');
    expect((await read()).version).toBe(0);
  });
});

describe('the stage after the end of a show', () => {
  const at = withShowAtPlace({ started: true });

  it('is bare, so that nobody stands in the picture of what comes next unasked', async () => {
    const params = { showId: at.showId };
    const ticker: StageChange = {
      type: 'graphics',
      change: { type: 'ticker', values: { isOn: true, lines: ['Doors at eight'] } },
    };
    const changes = [on(A), { type: 'arm' } as const, on(B), ticker].map((change) => ({
      id: crypto.randomUUID(),
      change,
    }));
    await at.house.as.host.get(changeStage, { params, body: { changes } });
    await at.house.as.host.get(endShow, { params });
    const { stage } = (await at.house.as.host.get(readStage, { params })).known;
    expect([placedIn(stage.programme), stage.armed]).toEqual([[], null]);
    expect(stage.graphics.ticker)
      .withContext('kept for the next time')
      .toEqual({
        isOn: false,
        lines: ['Doors at eight'],
      });
  });
});
