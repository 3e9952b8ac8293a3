import { openIngest } from '@juncta/core/destinations';
import type { Connector } from '../connector';

/** A server address and a stream key, and nothing else is known. */
export const customRtmp: Connector = {
  rules: {
    place: 'Address and key',
    since: '2026-09-01',
    source: 'nobody: what is not known is not assumed',
    capabilities: {
      connect: ['address_and_key'],
      placements: [],
      title: null,
      description: null,
      hashtags: null,
      settings: [],
      exclusive: false,
      picture: null,
      booking: { kind: 'none' },
      lateStart: { kind: 'waits' },
      goingPublic: 'unknown',
      ingest: {
        protocols: ['rtmp', 'rtmps', 'srt'],
        key: 'persistent',
        unusedKeyMinutes: null,
        backupAddress: false,
        regions: false,
        secondSender: 'unknown',
      },
      lineTest: { kind: 'unknown' },
      encoder: {
        // Whoever runs it knows what it takes: nothing is held against a picture here.
        shape: 'landscape',
        maxHeight: 1080,
        maxFramesPerS: 60,
        maxKbps: 4500,
        keyframeS: null,
        takesFormatChange: false,
      },
      feedLoss: { patienceS: 0, then: 'unknown', cleanEndEnds: 'unknown' },
      longestMinutes: null,
      viewerDelayS: {},
      chat: { delivery: 'none', abilities: [], reply: null },
    },
  },
  arrival: 'public',
  open: async ({ address, secret }) => ({
    ingest: openIngest(address, secret),
    eventRef: null,
    pageUrl: null,
    embedUrl: null,
  }),
  booking: null,
  accounts: null,
  look: null,
  publish: null,
  end: null,
  chat: null,
};
