import type { PictureFigures } from '../programme/picture-format';
import { AIRED_AUDIO_KBPS } from '../programme/programme-tags';
import { USUAL_LENGTH_MS } from './under-way';

/**
 * How much of a programme an uplink carries: what to send before the show, and what to send while it runs. All rates
 * are kbit/s of video alone unless a name says otherwise.
 */

/** Of what was measured so much is planned with: lines are never as good for an hour as they were for four seconds. */
export const UPLINK_SHARE = 0.65;
/** However little a line carries in mid-show, not less than this is tried. */
export const LEAST_VIDEO_KBPS = 900;
/** What RTMP, its chunks and the network's own packets add. */
const OVERHEAD = 1.05;

/** What is left for video of a rate that a place or a line takes of both together. */
export const videoWithin = (kbps: number, audioKbps: number): number =>
  Math.floor(kbps / OVERHEAD - audioKbps);

export interface RateLimit {
  /** A destination's name. */
  readonly name: string;
  /** The most it takes, of video and audio together. */
  readonly maxKbps: number;
}

export interface RateAdvice {
  readonly videoKbps: number;
  /** What keeps it below what was wanted: the uplink, or the strictest destination; null: nothing. */
  readonly limitedBy: 'uplink' | { readonly destination: string } | null;
  /** `plenty`: twice what is needed; `short`: the programme does not fit even at its least. */
  readonly uplink: 'unknown' | 'plenty' | 'enough' | 'short';
}

/**
 * What to send, so that it fits every place and the uplink with headroom.
 *
 * @param picture what would be sent if nothing stood in the way, and below what it falls to pieces
 * @param audioKbps what audio takes beside it on the uplink; to places it goes as {@link AIRED_AUDIO_KBPS}
 * @param uplinkKbps as it was measured; null: it was not
 */
export function adviseRate(
  { wantedKbps, leastKbps }: Pick<PictureFigures, 'wantedKbps' | 'leastKbps'>,
  audioKbps: number,
  limits: readonly RateLimit[],
  uplinkKbps: number | null,
): RateAdvice {
  if (wantedKbps < leastKbps) throw new RangeError(`wantedKbps must be ${leastKbps} or more`);
  const strictest = limits.reduce<RateLimit | null>(
    (least, one) => (least === null || one.maxKbps < least.maxKbps ? one : least),
    null,
  );
  const atPlaces = strictest === null ? Infinity : videoWithin(strictest.maxKbps, AIRED_AUDIO_KBPS);
  const carried = uplinkKbps === null ? Infinity : Math.floor(uplinkKbps * UPLINK_SHARE - audioKbps);
  const fitting = Math.min(wantedKbps, atPlaces, carried);
  const videoKbps = Math.max(leastKbps, fitting);
  const limitedBy =
    fitting === wantedKbps ? null : carried < atPlaces ? 'uplink' : { destination: strictest!.name };
  return { videoKbps, limitedBy, uplink: judged(videoKbps + audioKbps, uplinkKbps) };
}

function judged(neededKbps: number, uplinkKbps: number | null): RateAdvice['uplink'] {
  if (uplinkKbps === null) return 'unknown';
  if (uplinkKbps * UPLINK_SHARE < neededKbps) return 'short';
  return uplinkKbps >= neededKbps * 2 ? 'plenty' : 'enough';
}

/** So much of the programme is always under way: the line's length, and the time until an arrival is told. */
const USUALLY_WAITING_MS = USUAL_LENGTH_MS;
/** Half a second of programme that waits in the line, and it carries too little. */
const MOST_WAITING_MS = 500;
/** Of what the line carries: the rest takes away what has piled up. */
const CARRIED_SHARE = 0.8;
/** What was just begun is not judged by the little that was sent. */
const LEAST_SENT_KBPS = 300;
const STEP_DOWN = 0.7;
const STEP_UP = 1.12;
/** Windows without anything waiting before more is tried; the caller's windows are half a second. */
const CALM_WINDOWS = 16;
/** After a step down so many windows are waited for its effect. */
const SETTLING_WINDOWS = 4;

/** How it went lately; video and audio together. */
export interface UplinkSeen {
  /** For this long the oldest of what was sent had waited, at least within the window: `UnderWay.takeLeastWaitingMs`. */
  readonly waitingMs: number;
  readonly sentKbps: number;
  /** What came over there; null: nobody said. */
  readonly arrivedKbps: number | null;
}

/** The rate that is sent now, and how it came to it. */
export interface FollowedRate {
  readonly kbps: number;
  readonly calm: number;
  readonly settling: number;
}

export const followedFrom = (kbps: number): FollowedRate => ({ kbps, calm: 0, settling: 0 });

/**
 * After each half second on air: the rate for the next. Goes down at once when the line holds something back, and up
 * by small steps after a calm while, so that viewers see a softer picture rather than none. A picture that is easy to
 * encode takes less than its rate: what there is to come down from is told by what is really sent.
 *
 * @param ceilingKbps never more than this
 */
export function followUplink(
  rate: FollowedRate,
  { waitingMs, sentKbps, arrivedKbps }: UplinkSeen,
  audioKbps: number,
  ceilingKbps: number,
): FollowedRate {
  const reallyKbps = Math.min(rate.kbps, Math.max(LEAST_SENT_KBPS, sentKbps - audioKbps));
  if (waitingMs > MOST_WAITING_MS) {
    if (rate.settling > 0) return { ...rate, calm: 0, settling: rate.settling - 1 };
    // While something waits, what arrives is what the line carries.
    const carried = arrivedKbps === null ? Infinity : arrivedKbps * CARRIED_SHARE - audioKbps;
    const kbps = Math.max(
      Math.min(LEAST_VIDEO_KBPS, ceilingKbps),
      Math.round(Math.min(reallyKbps * STEP_DOWN, carried)),
    );
    return { kbps, calm: 0, settling: SETTLING_WINDOWS };
  }
  const calm = rate.calm + 1;
  const settling = Math.max(0, rate.settling - 1);
  if (rate.kbps >= ceilingKbps) return { kbps: ceilingKbps, calm, settling };
  if (calm < CALM_WINDOWS) return { ...rate, calm, settling };
  return { kbps: Math.min(ceilingKbps, Math.round(rate.kbps * STEP_UP)), calm: 0, settling };
}

/** What may be under way on the backlog lane: enough to fill a wide line, and gone from a narrow one in a second. */
const MOST_BACKLOG_BYTES = 300_000;

/**
 * How many bytes of what was missed may be sent now. What is live goes first: the more of it waits, the less, and
 * nothing before its rate would have to come down for it ({@link followUplink}).
 *
 * @param liveWaitingMs how long the oldest of the programme that is under way has waited: `UnderWay.waitingMs`
 * @param backlogWaitingBytes sent on the backlog lane, and not there yet
 */
export function backlogRoom(liveWaitingMs: number, backlogWaitingBytes: number): number {
  const share = (MOST_WAITING_MS - liveWaitingMs) / (MOST_WAITING_MS - USUALLY_WAITING_MS);
  return Math.max(0, Math.round(MOST_BACKLOG_BYTES * Math.min(1, share)) - backlogWaitingBytes);
}
