import type { ShowPerson, ShowText } from '@juncta/contract/shows';
import type { Member } from '@juncta/contract/team';
import type { Dressing } from '@juncta/core/dressing';
import type { SettingValues } from '@juncta/core/listings';

/** The made-up house of the demo. Nobody and nothing in it exists. */

export const ZONE = 'Europe/Lisbon';

export const ODALYS = 'a4b0c6de-6c1f-4d0a-9a57-0f5c2f6e1a01';
export const TEO = 'a4b0c6de-6c1f-4d0a-9a57-0f5c2f6e1a02';
export const INGRID = 'a4b0c6de-6c1f-4d0a-9a57-0f5c2f6e1a03';

export const DEMO_MEMBERS: readonly Member[] = [
  { id: ODALYS, name: 'Odalys Brandt', email: 'odalys@millrace.example', role: 'host' },
  { id: TEO, name: 'Teo Marchetti-Lunn', email: 'teo@millrace.example', role: 'producer' },
  { id: INGRID, name: 'Ingrid Sauvage', email: 'ingrid@millrace.example', role: 'moderator' },
];

export const PROVING_HOUR = 'b7d1e2f3-2a4b-4c5d-8e6f-7a8b9c0d1e01';
export const BENCH_NOTES = 'b7d1e2f3-2a4b-4c5d-8e6f-7a8b9c0d1e02';

/** `everyWeekLike`: the number of the show whose day and time it keeps every week; null: planned one by one. */
export const DEMO_SERIES = [
  { id: PROVING_HOUR, name: 'The Proving Hour', everyWeekLike: 3 },
  { id: BENCH_NOTES, name: 'Bench Notes', everyWeekLike: null },
];

/** What the two series look like: the warmth of a bakery, and a workbench in daylight. */
export const DEMO_DRESSINGS: readonly { readonly scope: string; readonly dressing: Dressing }[] = [
  {
    scope: PROVING_HOUR,
    dressing: {
      palette: {
        ground: '#2a1c14',
        relief: '#4a3122',
        paper: '#fbf4e8',
        ink: '#2a1c14',
        accent: '#b4532a',
      },
      faces: { heading: 'Bitter', text: 'Karla' },
      manner: 'steps',
      backdrop: 'gradient',
      backdropImage: null,
      frames: { space: 'usual', corners: 'soft', border: 'none' },
      bug: { text: 'The Proving Hour', logo: null, corner: 'top_right', size: 'usual' },
      overlays: [],
      slates: {
        before: 'The oven is warming up',
        break: 'The dough is resting',
        after: 'Until the next loaf',
      },
    },
  },
  {
    scope: BENCH_NOTES,
    dressing: {
      palette: {
        ground: '#e8e3d6',
        relief: '#d6cfbd',
        paper: '#1d3a4a',
        ink: '#f4efe2',
        accent: '#e3a83b',
      },
      faces: { heading: 'Barlow Condensed', text: 'Karla' },
      manner: 'cut',
      backdrop: 'lines',
      backdropImage: null,
      frames: { space: 'usual', corners: 'square', border: 'paper' },
      bug: { text: 'Bench Notes', logo: null, corner: 'top_left', size: 'usual' },
      overlays: [],
      slates: {
        before: 'We are setting up the bench',
        break: 'Back at the bench in a moment',
        after: 'The bench is swept. Good night',
      },
    },
  },
];

export interface DemoShow {
  readonly id: string;
  readonly text: Omit<ShowText, 'start'>;
  /** Null: no start set yet. `days` are counted from the day the demo was filled. */
  readonly when:
    | { readonly kind: 'ready' }
    | { readonly kind: 'on_day'; readonly days: number; readonly time: string; readonly zone?: string }
    | null;
  /** How it really went; only for shows that are over. */
  readonly ran?: { readonly lateMs: number; readonly lengthMs: number };
  readonly archived?: boolean;
  readonly editedBy: string;
  readonly editedAgoMinutes: number;
}

/** Ids of people are those of the show with the last digits changed: made up, but the same at every start. */
function people(showId: string, ...list: Omit<ShowPerson, 'id'>[]): ShowPerson[] {
  return list.map((person, i) => ({ ...person, id: `${showId.slice(0, -4)}f0${String(i + 10)}` }));
}

const odalys = { memberId: ODALYS, name: 'Odalys Brandt', part: 'host', about: 'Head of courses' } as const;
const teo = { memberId: TEO, name: 'Teo Marchetti-Lunn', part: 'producer', about: '' } as const;
const ingrid = { memberId: INGRID, name: 'Ingrid Sauvage', part: 'moderator', about: '' } as const;
const wanjiru = {
  memberId: null,
  name: 'Wanjiru Halloran',
  part: 'guest',
  about: 'Cereal scientist',
} as const;
const pascoe = { memberId: null, name: 'Pascoe Trethewey', part: 'guest', about: 'Miller' } as const;
const meiLin = { memberId: null, name: 'Mei-Lin Okafor', part: 'guest', about: 'Baker' } as const;

const id = (n: number) => `c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f${String(n).padStart(2, '0')}`;
const MINUTE = 60_000;

export const DEMO_SHOWS: readonly DemoShow[] = [
  {
    id: id(1),
    when: { kind: 'ready' },
    text: {
      title: 'A miller’s first hour: how flour is judged by hand',
      description:
        'Pascoe Trethewey has run the stones at four in the morning for thirty years. He shows what he feels for between thumb and finger, and Odalys asks what a laboratory would say to it.\n\nBring a spoonful of your own flour.',
      seriesId: PROVING_HOUR,
      plannedMinutes: 60,
      people: people(id(1), odalys, teo, ingrid, pascoe),
    },
    editedBy: TEO,
    editedAgoMinutes: 42,
  },
  {
    id: id(2),
    when: { kind: 'on_day', days: 3, time: '11:00' },
    text: {
      title: 'Cold dough, warm shop: a timetable for two bakers',
      description:
        'For trade bakers. How to move the work of the night into the afternoon without losing the crust. With a worksheet, and places on the January course at the end.',
      seriesId: BENCH_NOTES,
      plannedMinutes: 75,
      people: people(id(2), odalys, teo, ingrid, meiLin),
    },
    editedBy: TEO,
    editedAgoMinutes: 300,
  },
  {
    id: id(3),
    when: { kind: 'on_day', days: 7, time: '19:00' },
    text: {
      title: 'Starters that cross borders',
      description:
        'Mei-Lin Okafor carried one starter through six countries. What changed in it, and what did not.',
      seriesId: PROVING_HOUR,
      plannedMinutes: 60,
      people: people(id(3), odalys, ingrid, meiLin, wanjiru),
    },
    editedBy: ODALYS,
    editedAgoMinutes: 1500,
  },
  {
    id: id(4),
    when: { kind: 'on_day', days: 14, time: '19:00' },
    text: {
      title: 'Why is my rye grey? Your questions, answered at the bench',
      description: '',
      seriesId: PROVING_HOUR,
      plannedMinutes: 45,
      people: people(id(4), odalys, teo),
    },
    editedBy: ODALYS,
    editedAgoMinutes: 90,
  },
  {
    id: id(5),
    when: { kind: 'on_day', days: 17, time: '09:30', zone: 'America/St_Johns' },
    text: {
      title: 'Old wheats in a modern mixer',
      description: 'A morning session for our friends on the other side of the water.',
      seriesId: BENCH_NOTES,
      plannedMinutes: 90,
      people: people(id(5), odalys, teo, ingrid, wanjiru, pascoe),
    },
    editedBy: TEO,
    editedAgoMinutes: 4000,
  },
  {
    id: id(6),
    when: null,
    text: {
      title: 'Open mill day: four ovens, one camera each',
      description: 'Waiting for the yard to be paved.',
      seriesId: null,
      plannedMinutes: 180,
      people: people(id(6), teo),
    },
    editedBy: TEO,
    editedAgoMinutes: 9000,
  },
  {
    id: id(7),
    when: { kind: 'on_day', days: -7, time: '19:00' },
    ran: { lateMs: 80_000, lengthMs: 58 * MINUTE + 21_000 },
    text: {
      title: 'What the grain remembers: drought, soil and the 2026 harvest',
      description:
        'Wanjiru Halloran reads a season from one handful of wheat. Why the dough of this year drinks more, and what to change.',
      seriesId: PROVING_HOUR,
      plannedMinutes: 60,
      people: people(id(7), odalys, teo, ingrid, wanjiru),
    },
    editedBy: TEO,
    editedAgoMinutes: 10_000,
  },
  {
    id: id(8),
    when: { kind: 'on_day', days: -21, time: '15:00' },
    archived: true,
    text: {
      title: 'Line rehearsal with the new cameras',
      description: '',
      seriesId: null,
      plannedMinutes: 30,
      people: people(id(8), teo),
    },
    editedBy: TEO,
    editedAgoMinutes: 30_000,
  },
];

/** The school's accounts at the stand-in places. Where those are, and their owner's grants, the start command says. */
const account = (n: number) => `e7a5b6c7-5d7e-4f8a-9b9c-0d1e2f3a4b0${n}`;
export const DEMO_ACCOUNTS = [
  {
    id: account(1),
    kind: 'emberplay',
    scopes: ['channel:read', 'channel:write', 'ingest:read', 'ingest:write', 'chat:read', 'chat:write'],
    widest: null,
  },
  { id: account(2), kind: 'kitefield', scopes: ['events', 'chat'], widest: null },
  { id: account(3), kind: 'porchway', scopes: ['posts', 'comments'], widest: null },
  { id: account(4), kind: 'guildroad', scopes: ['broadcasts', 'discussion'], widest: 'everybody' },
] as const;

const destination = (n: number) => `d8f4a5b6-4c6d-4e7f-8a8b-9c0d1e2f3a0${n}`;
export const DEMO_DESTINATIONS = [
  {
    id: destination(2),
    accountId: account(2),
    name: 'Kitefield, the school’s channel',
    code: 'KI',
    pattern: 'barred',
    kind: 'kitefield',
    placement: { id: 'channel', kind: 'channel', name: 'The school' },
    page: '/',
  },
  {
    id: destination(1),
    accountId: account(1),
    name: 'Emberplay, the school’s channel',
    code: 'EM',
    pattern: 'striped',
    kind: 'emberplay',
    placement: { id: 'millrace', kind: 'channel', name: 'Millrace Flour & Baking School' },
    page: '/millrace/',
  },
  {
    id: destination(3),
    accountId: account(3),
    name: 'Porchway, the school’s page',
    code: 'PO',
    pattern: 'dotted',
    kind: 'porchway',
    placement: { id: 'school', kind: 'page', name: 'Millrace Flour & Baking School' },
    page: '/',
  },
  {
    id: destination(4),
    accountId: account(4),
    name: 'Guildroad, the school’s page',
    code: 'GU',
    pattern: 'checked',
    kind: 'guildroad',
    placement: { id: 'page', kind: 'page', name: 'Millrace Flour & Baking School' },
    page: '/',
  },
] as const;

/** What the team has laid down for every place that has it. */
export const DEMO_DEFAULTS: SettingValues = {
  audience: 'general',
  category: 'Food and drink',
  latency: 'short',
  chat_replay: true,
  captions: 'automatic',
};

/** Where shows go, by kind: the one that is ready and the finished one to two, those to come to all. */
const both = [destination(2), destination(1)];
const all = [...both, destination(3), destination(4)];
export const DEMO_ROUTES: readonly { readonly showId: string; readonly to: readonly string[] }[] = [
  { showId: id(1), to: both },
  { showId: id(2), to: all },
  { showId: id(3), to: all },
  { showId: id(7), to: both },
];
/** What somebody has set for single listings of the show that is to be mended: each has something wrong with it. */
export const DEMO_LISTINGS = [
  {
    showId: id(3),
    destinationId: destination(4),
    values: {
      title: 'Starters that cross borders: one jar of rye, six countries, and all that grew in it',
    },
  },
  { showId: id(3), destinationId: destination(3), values: { settings: { sponsored: true } } },
  { showId: id(3), destinationId: destination(2), values: { settings: { captions: 'off' } } },
] as const;
export const FINISHED_SHOW = id(7);
