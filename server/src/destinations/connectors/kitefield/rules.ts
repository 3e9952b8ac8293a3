import type { HouseRules } from '@juncta/contract/destinations';

export const KITEFIELD_RULES: HouseRules = {
  place: 'Kitefield',
  since: '2026-09-01',
  source: 'the place’s own guide for event makers, read when the connector was written',
  capabilities: {
    connect: ['authorise', 'address_and_key'],
    placements: ['channel'],
    visibilities: ['public', 'unlisted', 'private'],
    title: { max: 96, unit: 'utf16' },
    description: { max: 3600, unit: 'utf16' },
    picture: { aspect: '16:9', minWidth: 960, minHeight: 540, maxBytes: 3_000_000 },
    booking: { kind: 'by_api', leastMinutes: 20, mostMinutes: 9 * 24 * 60 },
    lateStart: { kind: 'waits' },
    goingPublic: 'by_api',
    ingest: {
      protocols: ['rtmp', 'rtmps'],
      key: 'either',
      unusedKeyMinutes: null,
      backupAddress: true,
      regions: false,
      secondSender: 'newer_wins',
    },
    encoder: { maxHeight: 1080, maxFramesPerS: 60, maxKbps: 8000, keyframeS: 3, takesFormatChange: true },
    feedLoss: { patienceS: 90, then: 'gap', cleanEndEnds: 'option' },
    longestMinutes: 10 * 60,
    viewerDelayS: { short: 8, ordinary: 21, shortest: 4 },
    chat: {
      delivery: 'poll',
      abilities: ['read', 'reply', 'hide', 'ban', 'slow'],
      reply: { max: 240, unit: 'utf16' },
    },
  },
};
