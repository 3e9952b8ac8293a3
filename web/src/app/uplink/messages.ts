/** Between the page and the worker that sends the programme to the relay. */
export type UplinkMessage =
  | {
      readonly type: 'start';
      readonly showId: string;
      /** A UUID for this composing, from its start to its end. */
      readonly session: string;
      readonly uplinkUrl: string;
      readonly ticket: string;
      /** The composer's end of the line. */
      readonly packets: MessagePort;
      readonly size: { readonly width: number; readonly height: number };
      readonly videoKbps: number;
      readonly audioKbps: number;
    }
  /** The one before was refused, or will run out. */
  | { readonly type: 'ticket'; readonly ticket: string; readonly uplinkUrl: string }
  /** The panic key, straight to the relay. */
  | { readonly type: 'cover'; readonly on: boolean }
  /** The most that is to be sent from now on: video alone. */
  | { readonly type: 'ceiling'; readonly videoKbps: number }
  | { readonly type: 'stop' };

export interface UplinkFigures {
  readonly connected: boolean;
  /** Packets that the relay has not had yet, and that are kept here. */
  readonly missed: number;
  /** Bytes that wait in the socket. */
  readonly waitingBytes: number;
  readonly kbps: number;
  /** What the video is encoded at just now, and at most. */
  readonly videoKbps: number;
  readonly ceilingKbps: number;
  /** False: this browser's store takes nothing; what is missed then lives in memory only. */
  readonly kept: boolean;
}

export type UplinkReport =
  | ({ readonly type: 'figures' } & UplinkFigures)
  /** Whether viewers see the slate because somebody wants it; null: the line is gone, and nobody says. */
  | { readonly type: 'covered'; readonly on: boolean | null }
  | { readonly type: 'refused'; readonly code: string; readonly sentence: string };
