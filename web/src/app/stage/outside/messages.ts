import type { DeviceFate, SourceId } from '@juncta/core/stage';

/** How a desk reaches the relay, as its ticket says. */
export interface RelayLine {
  readonly uplinkUrl: string;
  readonly ticket: string;
}

/** To the worker that receives outside pictures. */
export type OutsideMessage =
  | {
      readonly type: 'receive';
      readonly source: SourceId;
      readonly inputId: string;
      readonly line: RelayLine;
      /** Its frames and its sound go here: to the composer. */
      readonly port: MessagePort;
    }
  /** Another ticket from now on. */
  | { readonly type: 'line'; readonly line: RelayLine }
  | { readonly type: 'end'; readonly source: SourceId };

export type OutsideReport =
  | {
      readonly type: 'fates';
      readonly source: SourceId;
      readonly video: DeviceFate;
      readonly audio: DeviceFate;
    }
  /** The relay says no, in a sentence. It is asked again. */
  | { readonly type: 'refused'; readonly source: SourceId; readonly sentence: string }
  /** The relay wants another ticket. */
  | { readonly type: 'ticket' };
