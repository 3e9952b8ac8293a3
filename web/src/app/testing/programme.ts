import type { ProgrammeView } from '@juncta/contract/programme';
import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';

/** The show that they are of. */
export const SHOW = 's';
export const feed = (change: Partial<FeedReport> = {}): FeedReport => ({
  destinationId: 'd',
  state: 'sending',
  sinceMs: 0,
  attempt: 0,
  reason: null,
  placeSays: null,
  bitrateKbps: 4100,
  onAirMs: 65_000,
  leftOutFrames: 0,
  still: null,
  ...change,
});
export const programme = (change: Partial<ProgrammeReport> = {}): ProgrammeReport => ({
  showId: SHOW,
  state: 'source',
  deskId: 'desk',
  inputId: null,
  inputs: [],
  runId: null,
  showTimeMs: null,
  incomingKbps: 4000,
  delayMs: 0,
  isDrilled: false,
  silentMs: null,
  loadPercent: 3,
  disk: { freeBytes: 10 ** 12, recording: true },
  feeds: [],
  renditions: [],
  recordings: [],
  ...change,
});
export const view = (change: Partial<ProgrammeView> = {}): ProgrammeView => ({
  programme: programme(),
  recordings: change.programme?.recordings ?? [],
  marks: [],
  composing: null,
  atMs: 0,
  seq: 1,
  ...change,
});
