import type { PictureShape } from '../programme/picture-shape';

/**
 * Which encodings of a programme its places need. Every place is to get the best that it takes; what fits is copied, and
 * costs nothing; and an encoding is made only where it is worth one, and where the machine can carry it.
 */
export interface Rendition {
  readonly shape: PictureShape;
  /** Lines; of an upright picture as many as it is wide. */
  readonly height: number;
  /** Frames a second. */
  readonly rateHz: number;
  readonly videoKbps: number;
  /** s from one keyframe to the next, at most. */
  readonly keyframeS: number;
}

/** What a place takes; of video alone. */
export interface PlaceLimit {
  readonly id: string;
  readonly shape: PictureShape;
  /** Lines; of an upright picture its width. */
  readonly maxHeight: number;
  readonly maxFramesPerS: number;
  readonly maxVideoKbps: number;
  readonly keyframeS: number;
}

export interface Machine {
  /** What may be spent on encodings. */
  readonly cores: number;
  /** What one encoding takes, as it was measured here. */
  coresFor(rendition: Rendition): number;
}

export interface PlannedRendition {
  readonly rendition: Rendition;
  /** Whom it is for, by their ids. */
  readonly places: readonly string[];
  readonly cores: number;
}

export interface RenditionPlan {
  /** Places that get the programme's own frames. */
  readonly copied: readonly string[];
  readonly renditions: readonly PlannedRendition[];
  /** Places for which there is no room: they can only be served if the programme itself is lowered. */
  readonly unserved: readonly string[];
  readonly cores: number;
  /** What it loses, for comparing plans of the same places: encodings, what they lack, and whom they leave out. */
  readonly loss: number;
}

/**
 * What one encoding more has to be worth, in the measure of {@link loss}: a picture of a fifth less is not worth a core to
 * anybody. Also what makes fewest win where all are as good.
 */
const WORTH = 0.2;
/** A place that is left out counts for more than any loss. */
const LEFT_OUT = 100;
/** A picture of a tenth less, in the same measure, is seen by nobody. */
const UNSEEN = 0.1;
/** Where there is no room for encodings at their best, all of them are made no higher than one of these. Lines. */
const SMALLER = [720, 540, 480, 360] as const;

/** The best of the programme that this place takes. */
export function bestFor(programme: Rendition, limit: PlaceLimit): Rendition {
  return {
    shape: limit.shape,
    height: Math.min(programme.height, limit.maxHeight),
    rateHz: rateWithin(programme.rateHz, limit.maxFramesPerS),
    videoKbps: Math.min(programme.videoKbps, limit.maxVideoKbps),
    keyframeS: Math.min(programme.keyframeS, limit.keyframeS),
  };
}

/** Every second frame, or every third, goes: others would come unevenly. */
function rateWithin(rateHz: number, most: number): number {
  for (let part = 1; ; part++) if (rateHz / part <= most) return rateHz / part;
}

/**
 * The plan that loses least. Places that take the same are one; of those that differ, all ways of putting them together
 * are tried, which for as many formats as there are is soon done. Beyond {@link MOST_FORMATS} the two that are nearest to
 * each other are one.
 *
 * @param programme what is sent
 * @param wanted what would be sent if no place stood in the way: what is lost is lost of that
 */
export function planRenditions(
  programme: Rendition,
  places: readonly PlaceLimit[],
  machine: Machine,
  wanted: Rendition = programme,
): RenditionPlan {
  const wants = places.map((limit) => ({
    id: limit.id,
    takes: bestFor(programme, limit),
    best: bestFor(wanted, limit),
  }));
  const isCopied = ({ takes }: Want) => isSameRendition(takes, programme);
  const copied = wants.filter(isCopied);
  const needy = wants.filter((want) => !isCopied(want));
  let found: Carried | null = null;
  for (const mostHeight of [Infinity, ...SMALLER]) {
    const groups = joinNearest(groupsOf(needy, mostHeight), MOST_FORMATS, mostHeight);
    for (const partition of partitions(groups, mostHeight)) {
      const carried = withinCores(partition, machine);
      if (!found || carried.loss < found.loss - 1e-9) found = carried;
    }
  }
  const renditions = (found?.kept ?? []).map((group) => ({
    rendition: group.rendition,
    places: group.wants.map(({ id }) => id),
    cores: machine.coresFor(group.rendition),
  }));
  return {
    copied: copied.map(({ id }) => id),
    renditions,
    unserved: (found?.left ?? []).flatMap((group) => group.wants.map(({ id }) => id)),
    cores: renditions.reduce((sum, { cores }) => sum + cores, 0),
    loss: copied.reduce((sum, { best }) => sum + loss(best, programme), found?.loss ?? 0),
  };
}

/** 877 ways of putting seven together. */
export const MOST_FORMATS = 7;

interface Want {
  readonly id: string;
  /** The best that it takes of what is sent. */
  readonly takes: Rendition;
  /** The best that it takes of what is wanted. */
  readonly best: Rendition;
}

/** Places that get one encoding: what all of them take. They want the same shape. */
interface Group {
  readonly wants: readonly Want[];
  readonly rendition: Rendition;
}

export const isSameRendition = (a: Rendition, b: Rendition): boolean =>
  a.shape === b.shape &&
  a.height === b.height &&
  a.rateHz === b.rateHz &&
  a.videoKbps === b.videoKbps &&
  a.keyframeS === b.keyframeS;

function together(wants: readonly Want[], mostHeight: number): Group {
  const all = wants.map(({ takes }) => takes);
  const least = (of: (one: Rendition) => number) => Math.min(...all.map(of));
  return {
    wants,
    rendition: {
      shape: all[0]!.shape,
      height: Math.min(
        mostHeight,
        least(({ height }) => height),
      ),
      rateHz: least(({ rateHz }) => rateHz),
      videoKbps: least(({ videoKbps }) => videoKbps),
      keyframeS: least(({ keyframeS }) => keyframeS),
    },
  };
}

function groupsOf(wants: readonly Want[], mostHeight: number): Group[] {
  const groups: Want[][] = [];
  for (const want of wants) {
    const same = groups.find(([first]) => isSameRendition(first!.takes, want.takes));
    if (same) same.push(want);
    else groups.push([want]);
  }
  return groups.map((group) => together(group, mostHeight));
}

/**
 * How much of its best picture a place misses: halving size, rate or bits each counts the same (natural logarithm). What
 * is seen by nobody is nothing.
 */
export function loss(best: Rendition, gets: Rendition): number {
  const ratio = (of: (one: Rendition) => number) => Math.log(of(best) / of(gets));
  const lost =
    ratio(({ height }) => height ** 2) / 2 +
    ratio(({ rateHz }) => rateHz) / 2 +
    ratio(({ videoKbps }) => videoKbps);
  return lost < UNSEEN ? 0 : lost;
}

const haveSameShape = (a: Group, b: Group): boolean => a.rendition.shape === b.rendition.shape;

const lossWithin = ({ wants, rendition }: Group): number =>
  wants.reduce((sum, { best }) => sum + loss(best, rendition), 0);

/** Puts the two together that lose least by it, until there are so many, or no two that have the same shape. */
function joinNearest(groups: readonly Group[], most: number, mostHeight: number): Group[] {
  const joined = [...groups];
  while (joined.length > most) {
    let nearest: { i: number; j: number; group: Group; by: number } | null = null;
    for (let i = 0; i < joined.length; i++)
      for (let j = i + 1; j < joined.length; j++) {
        if (!haveSameShape(joined[i]!, joined[j]!)) continue;
        const group = together([...joined[i]!.wants, ...joined[j]!.wants], mostHeight);
        const by = lossWithin(group) - lossWithin(joined[i]!) - lossWithin(joined[j]!);
        if (!nearest || by < nearest.by) nearest = { i, j, group, by };
      }
    if (!nearest) break;
    joined.splice(nearest.j, 1);
    joined.splice(nearest.i, 1, nearest.group);
  }
  return joined;
}

/** All ways of putting groups together. */
function* partitions(groups: readonly Group[], mostHeight: number): Generator<readonly Group[]> {
  const [first, ...others] = groups;
  if (!first) {
    yield [];
    return;
  }
  for (const rest of partitions(others, mostHeight)) {
    yield [first, ...rest];
    for (let i = 0; i < rest.length; i++)
      if (haveSameShape(first, rest[i]!))
        yield rest.map((group, k) =>
          k === i ? together([...first.wants, ...group.wants], mostHeight) : group,
        );
  }
}

interface Carried {
  readonly kept: readonly Group[];
  readonly left: readonly Group[];
  readonly loss: number;
}

/** What the machine carries of them: the choice that leaves out fewest places, and loses least. */
function withinCores(groups: readonly Group[], machine: Machine): Carried {
  let found: Carried = { kept: [], left: groups, loss: Infinity };
  for (let choice = 0; choice < 2 ** groups.length; choice++) {
    const kept = groups.filter((_, i) => (choice >> i) & 1);
    if (kept.reduce((sum, { rendition }) => sum + machine.coresFor(rendition), 0) > machine.cores + 1e-9)
      continue;
    const left = groups.filter((_, i) => !((choice >> i) & 1));
    const lost =
      kept.reduce((sum, group) => sum + WORTH + lossWithin(group), 0) +
      left.reduce((sum, { wants }) => sum + LEFT_OUT * wants.length, 0);
    if (lost < found.loss) found = { kept, left, loss: lost };
  }
  return found;
}
