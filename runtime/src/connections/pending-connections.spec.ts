import { PendingConnections } from './pending-connections';

describe('connections that have not said who they are', () => {
  let closed: string[];
  let pending: PendingConnections<{ name: string }>;
  beforeEach(() => {
    jasmine.clock().install();
    closed = [];
    pending = new PendingConnections({ total: 4, perAddress: 2, patienceMs: 1000 });
  });
  afterEach(() => jasmine.clock().uninstall());
  const open = (name: string, address = name[0]!) => {
    const connection = { name };
    pending.add(connection, address, () => closed.push(name));
    return connection;
  };

  it('make room for the next of their own address, the oldest first', () => {
    for (const name of ['a1', 'a2', 'b1', 'a3', 'a4']) open(name);
    expect(closed).toEqual(['a1', 'a2']);
    expect(pending.size).toBe(3);
  });

  it('make room for another address when all places are taken, the oldest first', () => {
    for (const name of ['a1', 'b1', 'c1', 'd1', 'e1']) open(name);
    expect(closed).toEqual(['a1']);
  });

  it('are closed when they say nothing for too long, and not once they were admitted', () => {
    const admitted = open('a1');
    open('a2');
    pending.remove(admitted);
    pending.remove(admitted);
    open('a3');
    jasmine.clock().tick(999);
    expect(closed).toEqual([]);
    jasmine.clock().tick(1);
    expect(closed).toEqual(['a2', 'a3']);
    expect(pending.size).toBe(0);
  });
});
