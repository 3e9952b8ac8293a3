import type { Destination } from '@juncta/contract/destinations';

/** A destination reached by address and key, at a place of which nothing is known; for specs. */
export const tower = (change: Partial<Destination> = {}): Destination => ({
  id: 'd',
  name: 'Our tower',
  code: 'OT',
  pattern: 'dotted',
  kind: 'custom_rtmp',
  address: 'rtmps://tower.example/live',
  pageUrl: 'https://tower.example/watch',
  canBeSeen: false,
  endsByApi: false,
  accountId: null,
  placement: null,
  lineTest: null,
  encoderLimit: null,
  region: null,
  rules: {
    place: 'Our tower',
    since: '2026-09-01',
    source: 'us',
    capabilities: {
      title: null,
      booking: { kind: 'none' },
      goingPublic: 'unknown',
      lateStart: { kind: 'waits' },
      feedLoss: { patienceS: 0, then: 'unknown', cleanEndEnds: 'unknown' },
      longestMinutes: null,
      lineTest: { kind: 'unknown' },
      ingest: { regions: false },
      encoder: { shape: 'landscape', maxHeight: 1080, maxFramesPerS: 60, maxKbps: 12_000, keyframeS: null },
      viewerDelayS: {},
      chat: { delivery: 'none', abilities: [], reply: null },
    },
  } as unknown as Destination['rules'],
  ...change,
});
