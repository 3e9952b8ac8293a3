import type { Show } from '@juncta/contract/shows';

const DAY = 86_400_000;
const host = { id: 'p', memberId: 'm', name: 'Odalys', part: 'host', about: '' } as const;
/** For specs: a show so many days ahead; null: without a start. */
export const plannedShow = (id: string, inDays: number | null, change: Partial<Show> = {}): Show => {
  const startsAtMs = inDays === null ? null : Date.now() + inDays * DAY;
  const start = startsAtMs === null ? null : ({ local: '', zone: 'UTC', fold: 'earlier' } as const);
  return {
    id,
    version: 1,
    text: {
      title: `Show ${id}`,
      description: 'x',
      seriesId: null,
      start,
      plannedMinutes: 60,
      people: [host],
    },
    startsAtMs,
    startedAtMs: null,
    endedAtMs: null,
    archivedAtMs: null,
    editedAtMs: 0,
    editedBy: 'Teo',
    picture: null,
    shared: {},
    delayS: 0,
    pictureFormat: '720p30',
    ...change,
  };
};
