import fc from 'fast-check';
import type { PictureShape } from '../programme/picture-shape';
import { sizeOf } from './encode-cost';
import { bestFor, loss, planRenditions, type Machine, type PlaceLimit, type Rendition } from './planner';

const PROGRAMME: Rendition = { shape: 'landscape', height: 1080, rateHz: 60, videoKbps: 8000, keyframeS: 2 };
const place = (id: string, change: Partial<PlaceLimit> = {}): PlaceLimit => ({
  id,
  shape: 'landscape',
  maxHeight: 1080,
  maxFramesPerS: 60,
  maxVideoKbps: 8000,
  keyframeS: 3,
  ...change,
});
/** As much as its pixels in a second: 720p30 takes 0.9 of a core. */
const coresFor = ({ height, rateHz }: Rendition): number => (0.9 * height ** 2 * rateHz) / (720 ** 2 * 30);
const machine = (cores: number): Machine => ({ cores, coresFor });

describe('the plan of renditions', () => {
  it('copies wherever the programme fits, and makes nothing', () =>
    expect(planRenditions(PROGRAMME, [place('a'), place('b')], machine(2))).toEqual({
      copied: ['a', 'b'],
      renditions: [],
      unserved: [],
      cores: 0,
      loss: 0,
    }));

  it('lowers nobody for the strictest place', () => {
    const strict = place('strict', { maxHeight: 720, maxFramesPerS: 30, maxVideoKbps: 2800 });
    const plan = planRenditions(PROGRAMME, [place('a'), strict], machine(2));
    expect(plan.copied).toEqual(['a']);
    expect(plan.renditions).toEqual([
      {
        rendition: { shape: 'landscape', height: 720, rateHz: 30, videoKbps: 2800, keyframeS: 2 },
        places: ['strict'],
        cores: jasmine.any(Number),
      },
    ]);
    expect(plan.cores).toBeCloseTo(0.9, 5);
  });

  it('gives places that differ by a little one encoding, and those that differ by much one each', () => {
    const small = { maxHeight: 720, maxFramesPerS: 30 };
    const near = planRenditions(
      PROGRAMME,
      [place('a', { ...small, maxVideoKbps: 3200 }), place('b', { ...small, maxVideoKbps: 3000 })],
      machine(8),
    );
    expect(near.renditions.map(({ places, rendition }) => [places, rendition.videoKbps])).toEqual([
      [['a', 'b'], 3000],
    ]);
    const far = planRenditions(
      PROGRAMME,
      [place('a', { maxFramesPerS: 30, maxVideoKbps: 6000 }), place('b', { ...small, maxVideoKbps: 1500 })],
      machine(8),
    );
    expect(far.renditions.length).toBe(2);
  });

  it('puts together what the machine has no room for apart, and says whom it cannot serve', () => {
    const large = place('large', { maxFramesPerS: 30, maxVideoKbps: 5500 });
    const small = place('small', { maxHeight: 720, maxFramesPerS: 30, maxVideoKbps: 2800 });
    const tight = planRenditions(PROGRAMME, [large, small], machine(1));
    expect(tight.renditions.map(({ places }) => places)).toEqual([['large', 'small']]);
    expect(tight.unserved).toEqual([]);
    const none = planRenditions(PROGRAMME, [large, small, place('free')], machine(0.2));
    expect([none.copied, none.renditions, none.unserved.toSorted()]).toEqual([
      ['free'],
      [],
      ['large', 'small'],
    ]);
  });

  it('makes upright pictures apart, however little else they differ, and as wide as the programme is high', () => {
    const plan = planRenditions(
      PROGRAMME,
      [
        place('wide'),
        place('phones', { shape: 'upright_halves' }),
        place('others', { shape: 'upright_halves', maxVideoKbps: 7800 }),
        place('whole', { shape: 'upright_whole', maxHeight: 720 }),
      ],
      machine(16),
    );
    expect(plan.copied).toEqual(['wide']);
    const made = plan.renditions.map(({ rendition, places }) => [
      places,
      rendition.shape,
      ...Object.values(sizeOf(rendition)),
    ]);
    expect(made).toEqual([
      [['phones', 'others'], 'upright_halves', 1080, 1920],
      [['whole'], 'upright_whole', 720, 1280],
    ]);
  });

  it('puts no two shapes together, however many formats there are', () => {
    const many = ['landscape', 'upright_whole', 'upright_halves', 'upright_middle'].flatMap((shape, i) =>
      [500, 1500, 4000].map((maxVideoKbps) =>
        place(`${i} ${maxVideoKbps}`, { shape: shape as PictureShape, maxVideoKbps }),
      ),
    );
    const plan = planRenditions(PROGRAMME, many, machine(100));
    expect(plan.unserved).toEqual([]);
    for (const { rendition, places } of plan.renditions)
      expect(new Set(places.map((id) => many.find((one) => one.id === id)!.shape))).toEqual(
        new Set([rendition.shape]),
      );
  });

  it('leaves out every second frame, and none between', () => {
    expect(bestFor(PROGRAMME, place('a', { maxFramesPerS: 50 })).rateHz).toBe(30);
    expect(bestFor(PROGRAMME, place('a', { maxFramesPerS: 25 })).rateHz).toBe(20);
  });

  it('makes a smaller picture where the machine has no room for a large one, before it leaves a place out', () => {
    const plan = planRenditions(PROGRAMME, [place('a'), place('slow', { maxVideoKbps: 3000 })], machine(1.9));
    expect(plan.renditions.map(({ rendition }) => [rendition.height, rendition.rateHz])).toEqual([[720, 60]]);
    expect(plan.unserved).toEqual([]);
  });

  const limits = fc
    .array(
      fc.record({
        shape: fc.constantFrom<PictureShape>('landscape', 'landscape', 'upright_whole', 'upright_halves'),
        maxHeight: fc.constantFrom(480, 720, 1080),
        maxFramesPerS: fc.constantFrom(30, 60),
        maxVideoKbps: fc.integer({ min: 1000, max: 9000 }),
        keyframeS: fc.constantFrom(1, 2, 3),
      }),
      { minLength: 1, maxLength: 6 },
    )
    .map((all) => all.map((limit, i) => ({ id: String(i), ...limit })));

  it('serves every place once, within what it takes and what the machine has', () => {
    fc.assert(
      fc.property(limits, fc.double({ min: 0, max: 6, noNaN: true }), (places, cores) => {
        const plan = planRenditions(PROGRAMME, places, machine(cores));
        const served = [...plan.copied, ...plan.renditions.flatMap((one) => one.places), ...plan.unserved];
        expect(served.toSorted()).toEqual(places.map(({ id }) => id).toSorted());
        expect(plan.cores).toBeLessThanOrEqual(cores + 1e-6);
        for (const { rendition, places: ids } of plan.renditions)
          for (const id of ids) {
            const limit = places.find((one) => one.id === id)!;
            expect(rendition.shape).toBe(limit.shape);
            expect(rendition.height).toBeLessThanOrEqual(limit.maxHeight);
            expect(rendition.rateHz).toBeLessThanOrEqual(limit.maxFramesPerS);
            expect(rendition.videoKbps).toBeLessThanOrEqual(limit.maxVideoKbps);
            expect(rendition.keyframeS).toBeLessThanOrEqual(limit.keyframeS);
          }
      }),
    );
  });

  it('is as good as the best of all plans there are, for up to six places', () => {
    fc.assert(
      fc.property(limits, fc.double({ min: 0, max: 6, noNaN: true }), (places, cores) => {
        const plan = planRenditions(PROGRAMME, places, machine(cores));
        const bests = new Map(places.map((limit) => [limit.id, bestFor(PROGRAMME, limit)]));
        const cost =
          100 * plan.unserved.length +
          plan.renditions.reduce(
            (sum, { rendition, places: ids }) =>
              sum + 0.2 + ids.reduce((lost, id) => lost + loss(bests.get(id)!, rendition), 0),
            0,
          );
        const needy = places.filter(({ id }) => !plan.copied.includes(id)).map(({ id }) => bests.get(id)!);
        expect(cost).toBeCloseTo(leastCost(needy, cores), 6);
        expect(plan.loss).toBeCloseTo(cost, 6);
      }),
      { numRuns: 60 },
    );
  });
});

const leastCost = (bests: readonly Rendition[], cores: number): number =>
  Math.min(...[1080, 720, 540, 480, 360].map((lines) => leastCostUpTo(lines, bests, cores)));

/** Every place is put to one of up to six encodings, none of more lines, or left out: all ways are tried. */
function leastCostUpTo(lines: number, bests: readonly Rendition[], cores: number): number {
  let least = Infinity;
  const assign = (at: number, sets: readonly (readonly Rendition[])[], out: number): void => {
    if (at < bests.length) {
      assign(at + 1, sets, out + 1);
      sets.forEach((those, i) => {
        if (those[0]!.shape !== bests[at]!.shape) return;
        assign(
          at + 1,
          sets.map((set, k) => (k === i ? [...set, bests[at]!] : set)),
          out,
        );
      });
      assign(at + 1, [...sets, [bests[at]!]], out);
      return;
    }
    const made = sets.map((set) => ({
      set,
      rendition: {
        shape: set[0]!.shape,
        height: Math.min(lines, ...set.map(({ height }) => height)),
        rateHz: Math.min(...set.map(({ rateHz }) => rateHz)),
        videoKbps: Math.min(...set.map(({ videoKbps }) => videoKbps)),
        keyframeS: Math.min(...set.map(({ keyframeS }) => keyframeS)),
      },
    }));
    if (made.reduce((sum, { rendition }) => sum + coresFor(rendition), 0) > cores + 1e-9) return;
    const cost = made.reduce(
      (sum, { set, rendition }) => sum + 0.2 + set.reduce((lost, best) => lost + loss(best, rendition), 0),
      100 * out,
    );
    least = Math.min(least, cost);
  };
  assign(0, [], 0);
  return least;
}
