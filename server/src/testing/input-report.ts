import type { InputReport } from '@juncta/contract/relay';

/** It is here, fits, and waits. */
export const inputReport = (inputId: string, change: Partial<InputReport> = {}): InputReport => ({
  inputId,
  state: 'in_preview',
  sinceMs: 0,
  isSecure: false,
  knockedAtMs: null,
  figures: { video: null, audio: null, gaps: 0, jumps: 0 },
  findings: [],
  carriage: { video: false, audio: false },
  callProblem: null,
  cores: null,
  isOnStage: false,
  still: null,
  ...change,
});
