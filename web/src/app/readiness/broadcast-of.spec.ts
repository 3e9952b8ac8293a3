import type { Destination } from '@juncta/contract/destinations';
import type { Show } from '@juncta/contract/shows';
import { draftListing } from '../testing/listings';
import { broadcastOf, inheritedOf, rowsOf, type BroadcastParts } from './broadcast-of';

const show = (id: string, change: { local?: string; seriesId?: string | null } = {}): Show => {
  const local = change.local ?? '2027-05-20T19:00';
  return {
    id,
    version: 1,
    text: {
      title: 'With {guests}',
      description: '{gests}',
      seriesId: change.seriesId === undefined ? 'hour' : change.seriesId,
      start: { local, zone: 'Europe/Lisbon', fold: 'earlier' },
      plannedMinutes: 60,
      people: [{ id: 'p', memberId: null, name: 'Pascoe', part: 'guest', about: '' }],
    },
    startsAtMs: 0,
    startedAtMs: null,
    endedAtMs: null,
    archivedAtMs: null,
    editedAtMs: 0,
    editedBy: null,
    picture: null,
    shared: {},
    delayS: 0,
    pictureFormat: '720p30',
  };
};
const listing = draftListing({ destinationId: 'ki' });
const destination = {
  id: 'ki',
  accountId: 'account',
  rules: { place: 'Kitefield', capabilities: {} },
} as unknown as Destination;

const parts = (change: Partial<BroadcastParts> = {}): BroadcastParts => ({
  show: show('one'),
  others: [],
  series: null,
  destinations: [destination],
  listings: [listing],
  accounts: [],
  clashes: [],
  machine: null,
  defaults: { team: { rewind: true }, bySeries: { hour: { rewind: false } }, atDeskMinutes: 40 },
  ...change,
});
const broadcast = (change: Partial<BroadcastParts> = {}) => {
  const all = parts(change);
  return broadcastOf(all, rowsOf(all));
};

describe('a show as readiness sees it', () => {
  it('has its listings as they will read', () => {
    const [planned] = broadcast().listings;
    expect(planned!.title).toBe('With Pascoe');
    expect(planned!.unknownPlaceholders).toEqual(['gests']);
  });

  it('has no row for a destination whose listing is not known yet', () => {
    expect(rowsOf(parts({ listings: [] }))).toEqual([]);
  });

  it('knows which account is lost, and which destination has none', () => {
    const account = {
      id: 'account',
      kind: 'kitefield' as const,
      place: 'Kitefield',
      name: 'The school',
      scopes: [],
      widest: null,
      connectedAtMs: 0,
    };
    const of = (state: 'good' | 'lost') =>
      broadcast({ accounts: [{ ...account, state }] }).listings[0]!.account;
    expect([of('good'), of('lost'), broadcast().listings[0]!.account]).toEqual(['good', 'lost', 'none']);
  });

  it('has the defaults of its series before the team’s', () => {
    expect(inheritedOf(show('one'), parts().defaults)).toEqual([
      { origin: 'show', values: {} },
      { origin: 'house', values: { rewind: false } },
      { origin: 'house', values: { rewind: true } },
    ]);
    expect(inheritedOf(show('one', { seriesId: null }), parts().defaults)).toEqual([
      { origin: 'show', values: {} },
      { origin: 'house', values: { rewind: true } },
    ]);
  });

  it('knows when its series usually starts, once two of its shows agree', () => {
    const usual = (...others: Show[]) => broadcast({ others }).usualStartMinute;
    const evening = show('two');
    expect(usual(evening)).toBeNull();
    expect(usual(evening, show('three'))).toBe(19 * 60);
    expect(usual(evening, show('three', { local: '2027-05-20T07:00' }))).toBeNull();
    expect(usual(evening, show('three', { seriesId: 'other' }))).toBeNull();
    expect(broadcast({ show: show('one', { local: '2027-05-20T07:05' }) }).startMinute).toBe(425);
  });
});
