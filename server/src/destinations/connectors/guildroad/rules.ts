import type { HouseRules } from '@juncta/contract/destinations';
import { choice, setting } from '../settings';

export const GUILDROAD_RULES: HouseRules = {
  place: 'Guildroad',
  since: '2026-10-01',
  source: 'the place’s own guide for broadcasts, read when the connector was written',
  capabilities: {
    connect: ['authorise', 'address_and_key'],
    placements: ['page', 'showcase'],
    title: { max: 72, unit: 'grapheme' },
    description: { max: 2200, unit: 'grapheme' },
    hashtags: null,
    settings: [
      choice('visibility', ['everybody', 'connections']),
      setting('language', null),
      setting('topics', []),
      setting('speakers', []),
      setting('organiser', null),
      setting('co_hosts', []),
      setting('chat_replay', false),
      choice('archive_visibility', ['everybody', 'connections', 'nobody']),
      choice('captions', ['off', 'automatic']),
    ],
    exclusive: true,
    picture: { needed: false, aspect: '16:9', minWidth: null, minHeight: null, maxBytes: 1_000_000 },
    booking: { kind: 'by_api', leastMinutes: 0, mostMinutes: 45 * 24 * 60 },
    lateStart: { kind: 'lapses', afterMinutes: 13 },
    goingPublic: 'by_api',
    ingest: {
      protocols: ['rtmp', 'rtmps'],
      key: 'per_event',
      unusedKeyMinutes: null,
      backupAddress: false,
      regions: false,
      secondSender: 'refused',
    },
    // Narrow, since an account may have been let in for its connections only; nobody sees a preview anyway.
    lineTest: {
      kind: 'hidden_event',
      placements: null,
      settings: { visibility: 'connections' },
      slotInMinutes: null,
    },
    encoder: {
      shape: 'landscape',
      maxHeight: 1080,
      maxFramesPerS: 30,
      maxKbps: 4200,
      keyframeS: 2,
      takesFormatChange: false,
    },
    feedLoss: { patienceS: 180, then: 'gap', cleanEndEnds: 'no' },
    longestMinutes: 210,
    viewerDelayS: { ordinary: 17 },
    chat: { delivery: 'poll', abilities: ['read'], reply: null },
  },
};
