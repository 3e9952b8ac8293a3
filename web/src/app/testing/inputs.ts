import type { Input } from '@juncta/contract/ingest';
import type { InputReport } from '@juncta/contract/relay';

export const outsideInput = (change: Partial<Input> = {}): Input => ({
  id: 'hall',
  name: 'Hall',
  transport: 'rtmp',
  address: 'rtmp://house.example:8422/in/hall',
  secureAddress: null,
  key: 'a-key',
  second: 'refused',
  onArrival: 'waits',
  isStanding: false,
  ...change,
});

/** It is here, fits, and waits. */
export const inputReport = (change: Partial<InputReport> = {}): InputReport => ({
  inputId: 'hall',
  state: 'in_preview',
  sinceMs: 0,
  isSecure: false,
  knockedAtMs: null,
  callProblem: null,
  figures: {
    video: {
      codec: 'h264',
      madeFrom: null,
      sequence: {
        profileIdc: 77,
        levelIdc: 31,
        width: 1280,
        height: 720,
        chroma: '4:2:0',
        bitDepth: 8,
        isInterlaced: false,
      },
      isUnreadable: false,
      rateHz: 29.97,
      isVariable: false,
      keyframeS: 2,
      isReordered: false,
      kbps: 2500,
      lateMs: 12,
    },
    audio: { codec: 'aac', rateHz: 48_000, channels: 2, kbps: 128, isSilent: false },
    gaps: 0,
    jumps: 0,
  },
  findings: [],
  carriage: { video: false, audio: false },
  cores: null,
  isOnStage: false,
  still: 7,
  ...change,
});
