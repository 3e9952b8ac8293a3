import { Batches } from './batches';
import type { ChatListener, PlaceMessage } from './connector';

const message = (n: number): PlaceMessage => ({
  id: String(n),
  seq: String(n),
  kind: 'message',
  writtenAtMs: n,
  author: { id: 'a', name: 'A', owner: false, badges: [], accountDays: null },
  text: `text ${n}`,
  replyTo: null,
  editedAtMs: null,
  deleted: false,
});

/** Keeps what it is given when it is told to. */
class Keeper {
  readonly kept: string[][] = [];
  fails = false;
  private release: (() => void)[] = [];

  readonly listener: ChatListener = {
    opened: () => undefined,
    lost: () => undefined,
    refused: () => undefined,
    reacted: () => Promise.resolve(),
    messages: async (arrived) => {
      await new Promise<void>((done) => this.release.push(done));
      if (this.fails) throw new Error('the database is away');
      this.kept.push(arrived.map(({ id }) => id));
    },
  };

  async keepOn(): Promise<void> {
    for (let i = 0; i < 5 && this.release.length === 0; i++) await Promise.resolve();
    this.release.shift()?.();
    for (let i = 0; i < 5; i++) await Promise.resolve();
  }
}

describe('batches', () => {
  it('hand on together what came while those before were being kept', async () => {
    const keeper = new Keeper();
    const batches = new Batches(keeper.listener, null);
    batches.begin();
    for (let n = 1; n <= 1200; n++) batches.add(message(n));
    await Promise.resolve();
    for (let i = 0; i < 4; i++) await keeper.keepOn();
    expect(keeper.kept.map(({ length }) => length)).toEqual([500, 500, 200]);
    expect(keeper.kept.flat()).toEqual(Array.from({ length: 1200 }, (_, i) => String(i + 1)));
    expect(batches.cursor).toBe('1200');
  });

  it('break the line off when something could not be kept, and go on from what is', async () => {
    const keeper = new Keeper();
    const batches = new Batches(keeper.listener, '0');
    const broken = batches.begin();
    batches.add(message(1));
    await keeper.keepOn();
    expect(batches.cursor).toBe('1');
    keeper.fails = true;
    batches.add(message(2));
    batches.add(message(3));
    await keeper.keepOn();
    await batches.settle();
    expect(broken.aborted).toBeTrue();
    batches.add(message(4));
    expect(batches.cursor).withContext('nothing of that is kept').toBe('1');
    keeper.fails = false;
    expect(batches.begin().aborted).toBeFalse();
    [2, 3, 4].forEach((n) => batches.add(message(n)));
    await keeper.keepOn();
    await keeper.keepOn();
    expect(keeper.kept).toEqual([['1'], ['2', '3', '4']]);
    expect(batches.cursor).toBe('4');
  });

  it('give a line up that brings more than can be kept', () => {
    const batches = new Batches(new Keeper().listener, null);
    const broken = batches.begin();
    for (let n = 1; n <= 20_300 && !broken.aborted; n++) batches.add(message(n));
    expect(broken.aborted).toBeTrue();
  });
});
