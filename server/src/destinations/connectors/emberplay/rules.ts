import type { HouseRules } from '@juncta/contract/destinations';
import { choice, setting } from '../settings';

export const EMBERPLAY_RULES: HouseRules = {
  place: 'Emberplay',
  since: '2026-09-01',
  source: 'the place’s own guide for channels, read when the connector was written',
  capabilities: {
    connect: ['authorise'],
    placements: ['channel'],
    title: { max: 150, unit: 'utf8_byte' },
    description: null,
    hashtags: null,
    settings: [
      choice('category', ['Food and drink', 'Talk', 'Making things', 'Games'], {
        none: true,
        required: true,
      }),
      setting('language', null),
      setting('topics', []),
      setting('earning', false),
      setting('products', []),
      setting('sponsored', false),
    ],
    exclusive: false,
    picture: null,
    booking: { kind: 'none' },
    lateStart: { kind: 'waits' },
    goingPublic: 'on_arrival',
    ingest: {
      protocols: ['rtmp', 'rtmps'],
      key: 'persistent',
      unusedKeyMinutes: null,
      backupAddress: false,
      regions: true,
      secondSender: 'newer_wins',
    },
    lineTest: { kind: 'unsafe' },
    encoder: {
      shape: 'landscape',
      maxHeight: 1080,
      maxFramesPerS: 60,
      maxKbps: 7000,
      keyframeS: 2,
      takesFormatChange: true,
    },
    feedLoss: { patienceS: 0, then: 'event_ends', cleanEndEnds: 'yes' },
    longestMinutes: 20 * 60,
    viewerDelayS: { ordinary: 5 },
    chat: {
      delivery: 'websocket',
      abilities: ['read', 'reply', 'hide', 'ban', 'slow', 'followers_only', 'sale_events'],
      reply: { max: 420, unit: 'utf8_byte' },
    },
  },
};
