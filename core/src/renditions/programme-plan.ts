import {
  AIRED_AUDIO_KBPS,
  KEYFRAME_INTERVAL_S,
  figuresOf,
  isUpright,
  type PictureFormat,
  type PictureShape,
} from '../programme';
import { videoWithin } from '../uplink';
import { machineFor, SLOW_MACHINE, type EncodingMachine } from './encode-cost';
import {
  isSameRendition,
  planRenditions,
  type PlaceLimit,
  type Rendition,
  type RenditionPlan,
} from './planner';

/** What a place says that it takes. */
export interface EncoderLimit {
  readonly shape: PictureShape;
  readonly maxHeight: number;
  readonly maxFramesPerS: number;
  /** Video and audio together. */
  readonly maxKbps: number;
  /** s; null: it does not say. */
  readonly keyframeS: number | null;
}

export interface Place {
  readonly id: string;
  readonly encoder: EncoderLimit;
}

export interface ProgrammePlan extends RenditionPlan {
  /** What is sent to the relay, where the uplink carries it. */
  readonly programme: Rendition;
}

/**
 * What a show sends, and what each of its places gets of it. Where the machine cannot encode for a place that takes fewer
 * bits, or where that is not worth an encoding, the programme has fewer for everybody.
 *
 * @param machine null: nobody knows what may be encoded, so nothing is
 */
export function planProgramme(
  format: PictureFormat,
  places: readonly Place[],
  machine: EncodingMachine | null,
): ProgrammePlan {
  const { height, rateHz, wantedKbps, leastKbps } = figuresOf(format);
  const wanted: Rendition = {
    shape: 'landscape',
    height,
    rateHz,
    videoKbps: wantedKbps,
    keyframeS: KEYFRAME_INTERVAL_S,
  };
  const limits = places.map(limitOf);
  // Who gets an upright picture is encoded for in any case: fewer bits for everybody would not help.
  const lower = limits.filter(({ shape }) => !isUpright(shape)).map(({ maxVideoKbps }) => maxVideoKbps);
  const rates = [...new Set([wantedKbps, ...lower.filter((kbps) => kbps < wantedKbps && kbps >= leastKbps)])];
  let found: ProgrammePlan | null = null;
  for (const videoKbps of rates.sort((a, b) => b - a)) {
    const programme = { ...wanted, videoKbps };
    const plan = planRenditions(programme, limits, machineFor(programme, machine ?? NOTHING), wanted);
    if (!found || plan.loss < found.loss - 1e-9) found = { ...plan, programme };
  }
  return found!;
}

const NOTHING: EncodingMachine = { cores: 0, cost: SLOW_MACHINE, isMeasured: false };

const limitOf = ({ id, encoder }: Place): PlaceLimit => ({
  id,
  shape: encoder.shape,
  maxHeight: encoder.maxHeight,
  maxFramesPerS: encoder.maxFramesPerS,
  maxVideoKbps: videoWithin(encoder.maxKbps, AIRED_AUDIO_KBPS),
  keyframeS: encoder.keyframeS ?? Infinity,
});

/** What a place gets. `none`: this machine has no room to encode for it. */
export type PlaceGets =
  | { readonly kind: 'programme' }
  | { readonly kind: 'rendition'; readonly rendition: Rendition }
  | { readonly kind: 'none' };

export function getsOf(plan: RenditionPlan, id: string): PlaceGets {
  if (plan.unserved.includes(id)) return { kind: 'none' };
  const found = plan.renditions.find(({ places }) => places.includes(id));
  return found ? { kind: 'rendition', rendition: found.rendition } : { kind: 'programme' };
}

/**
 * Whose limits the programme keeps to: who gets it by the plan; and who gets it now, whatever a later plan says, since a feed
 * that runs is not moved to an encoding of its own. What is encoded apart for a place lowers nobody else.
 *
 * @param sent feeds that are under way, by their destinations
 * @param apart destinations that get a rendition now
 */
export const whoGetsProgramme = (
  { copied }: RenditionPlan,
  sent: readonly string[],
  apart: readonly string[],
): string[] => [...new Set([...copied, ...sent.filter((id) => !apart.includes(id))])];

/**
 * What a place gets that joins while others are served: plans change when places come and go, and what runs is not touched
 * for that. Its own rendition where it runs already or there is room; or one that runs and that it takes.
 *
 * @param running what is encoded now, of this show
 * @param coresLeft what is free beside it
 */
export function joinRunning(
  plan: ProgrammePlan,
  place: Place,
  running: readonly Rendition[],
  machine: EncodingMachine,
  coresLeft: number,
): PlaceGets {
  const gets = getsOf(plan, place.id);
  if (gets.kind === 'programme') return gets;
  const wanted = gets.kind === 'rendition' ? gets.rendition : null;
  if (wanted && running.some((one) => isSameRendition(one, wanted))) return gets;
  if (wanted && machineFor(plan.programme, machine).coresFor(wanted) <= coresLeft + 1e-9) return gets;
  const limit = limitOf(place);
  const [best] = running
    .filter(
      (one) =>
        one.shape === limit.shape &&
        one.height <= limit.maxHeight &&
        one.rateHz <= limit.maxFramesPerS &&
        one.videoKbps <= limit.maxVideoKbps &&
        one.keyframeS <= limit.keyframeS,
    )
    .sort((a, b) => b.videoKbps * b.height * b.rateHz - a.videoKbps * a.height * a.rateHz);
  return best ? { kind: 'rendition', rendition: best } : { kind: 'none' };
}
