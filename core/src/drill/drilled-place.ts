import type { ProgrammeState } from '../programme';

/**
 * A place as a drill plays it: it takes a feed, or not, and behaves with it as its house rules say. Pure:
 * `nextDrilled(place, event, rules)` gives the new place, `seenAt` what its viewers see.
 */

/** What of a place's house rules bears on a drill. */
export interface DrillRules {
  /** Whether what arrives is shown at once, or has to be published. */
  readonly arrival: 'public' | 'held';
  /** How long a lost feed is waited for, s. */
  readonly patienceS: number;
  /** And what comes of it then. */
  readonly then: 'gap' | 'event_ends' | 'unknown';
  /** Whether an orderly end of the feed ends the event. */
  readonly cleanEndEnds: boolean;
}

export interface DrilledPlace {
  /**
   * `waiting`: nothing has arrived yet; `held`: it has the picture and does not show it; `public`: viewers see what
   * arrives; `lost`: its feed is gone and it waits; `over`: the event is ended.
   */
  readonly phase: 'waiting' | 'held' | 'public' | 'lost' | 'over';
  /** Whether viewers were let see it already. */
  readonly wasPublic: boolean;
  /** Of the last picture, and of the loss; null: none. */
  readonly pictureMs: number | null;
  readonly lostMs: number | null;
}

export type DrillEvent =
  | { readonly type: 'arrived'; readonly atMs: number }
  | { readonly type: 'picture'; readonly atMs: number }
  /** `clean`: the sender said that it was over. */
  | { readonly type: 'left'; readonly atMs: number; readonly clean: boolean }
  | { readonly type: 'published' }
  /** It throws the event away. */
  | { readonly type: 'lapsed' }
  /** Its clock went on. */
  | { readonly type: 'tick'; readonly atMs: number };

export const FRESH_PLACE: DrilledPlace = {
  phase: 'waiting',
  wasPublic: false,
  pictureMs: null,
  lostMs: null,
};

/** Longer without a picture and viewers notice that it stands still. */
export const FROZEN_MS = 1000;

export function nextDrilled(place: DrilledPlace, event: DrillEvent, rules: DrillRules): DrilledPlace {
  switch (event.type) {
    case 'arrived': {
      if (place.phase === 'over' && !takesAnew(rules)) return place;
      const isPublic = rules.arrival === 'public' || (place.wasPublic && place.phase !== 'over');
      // Until the next picture comes, viewers have the last one.
      const pictureMs = place.phase === 'lost' ? place.pictureMs : null;
      return { phase: isPublic ? 'public' : 'held', wasPublic: isPublic, pictureMs, lostMs: null };
    }
    case 'picture':
      return place.phase === 'held' || place.phase === 'public' ? { ...place, pictureMs: event.atMs } : place;
    case 'left': {
      if (place.phase !== 'held' && place.phase !== 'public') return place;
      const ends = event.clean ? rules.cleanEndEnds : rules.patienceS === 0 && rules.then === 'event_ends';
      return ends ? { ...place, phase: 'over' } : { ...place, phase: 'lost', lostMs: event.atMs };
    }
    case 'published':
      return place.phase === 'held' ? { ...place, phase: 'public', wasPublic: true } : place;
    case 'lapsed':
      return { ...place, phase: 'over' };
    case 'tick': {
      const isLate = place.phase === 'lost' && event.atMs - place.lostMs! >= rules.patienceS * 1000;
      return isLate && rules.then === 'event_ends' ? { ...place, phase: 'over' } : place;
    }
  }
}

/** Whether it takes a feed now: an event that is over is over, but where each arrival is an event of its own. */
export const takesFeed = (place: DrilledPlace, rules: DrillRules): boolean =>
  place.phase !== 'over' || takesAnew(rules);

const takesAnew = ({ patienceS, then }: DrillRules): boolean => patienceS === 0 && then === 'event_ends';

/**
 * What viewers see at a place: the `picture`, our `slate` (because nothing comes from the desk, or somebody covered the
 * programme), the last picture standing still (`frozen`), `nothing` where there was something, or still nothing
 * (`not_yet`); `over`: the place says that it is over.
 */
export const SEEN = ['not_yet', 'picture', 'slate', 'frozen', 'nothing', 'over'] as const;
export type Seen = (typeof SEEN)[number];

/** @param shown what the programme is just now */
export function seenAt(place: DrilledPlace, rules: DrillRules, shown: ProgrammeState, atMs: number): Seen {
  switch (place.phase) {
    case 'waiting':
    case 'held':
      return 'not_yet';
    case 'over':
      return place.wasPublic ? 'over' : 'not_yet';
    case 'public':
      if (place.pictureMs === null || atMs - place.pictureMs > FROZEN_MS)
        return place.pictureMs === null ? 'nothing' : 'frozen';
      return shown === 'source' ? 'picture' : 'slate';
    case 'lost':
      if (!place.wasPublic) return 'not_yet';
      return atMs - place.lostMs! < rules.patienceS * 1000 ? 'frozen' : 'nothing';
  }
}
