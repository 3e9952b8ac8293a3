/** What can go wrong in a drill, on purpose. */

/** At one place: it refuses feeds, stops reading, drops the feed once, or throws the event away. */
export const PLACE_FAULTS = ['refuse', 'stall', 'drop', 'lapse'] as const;
/** On the way from the desk: the uplink is cut, or carries little; or the desk itself is lost, and comes back. */
export const DESK_FAULTS = ['uplink_cut', 'uplink_slow', 'desk_lost'] as const;
/** In the house: a process dies, and is brought back. */
export const HOUSE_FAULTS = ['server_dies', 'relay_dies', 'room_dies', 'database_dies'] as const;

export type PlaceFaultKind = (typeof PLACE_FAULTS)[number];
export type DeskFaultKind = (typeof DESK_FAULTS)[number];
export type HouseFaultKind = (typeof HOUSE_FAULTS)[number];
export type FaultKind = PlaceFaultKind | DeskFaultKind | HouseFaultKind;

export interface DrillFault {
  readonly kind: FaultKind;
  /** Of a place's fault; null of all others. */
  readonly destinationId: string | null;
  /** How long it holds; what happens once has 0. */
  readonly seconds: number;
}

/** Of a slow uplink: far too little for any programme, kbit/s. */
export const SLOW_UPLINK_KBPS = 900;
export const MOST_FAULT_SECONDS = 120;

const ONCE: ReadonlySet<FaultKind> = new Set(['drop', 'lapse', 'desk_lost', ...HOUSE_FAULTS]);
const isPlaceFault = (kind: FaultKind): boolean => (PLACE_FAULTS as readonly string[]).includes(kind);

/** What is wrong with a wish for a fault; null: nothing. */
export function faultProblem({ kind, destinationId, seconds }: DrillFault): 'place' | 'seconds' | null {
  if (isPlaceFault(kind) !== (destinationId !== null)) return 'place';
  if (ONCE.has(kind)) return seconds === 0 ? null : 'seconds';
  return Number.isInteger(seconds) && seconds >= 1 && seconds <= MOST_FAULT_SECONDS ? null : 'seconds';
}

/** How long one of this kind holds while nobody says otherwise, s. */
export function usualSeconds(kind: FaultKind): number {
  if (ONCE.has(kind)) return 0;
  return kind === 'uplink_slow' ? 20 : 8;
}

export interface ScriptedFault extends DrillFault {
  /** Seconds after the script was started. */
  readonly afterS: number;
}

/** After its last fault a script waits so long for everything to be well again, s. */
const CALM_S = 12;

/**
 * A bad night in a minute: what happens to shows, one after the other, with time between to see it mended. Nothing in
 * it ends an event.
 *
 * @param destinationIds in the order of the board; one at least
 */
export function badNight(destinationIds: readonly string[]): readonly ScriptedFault[] {
  const [first] = destinationIds;
  if (first === undefined) throw new RangeError('a bad night needs one destination at least');
  const last = destinationIds.at(-1)!;
  const at = (afterS: number, kind: FaultKind, destinationId: string | null = null): ScriptedFault => ({
    afterS,
    kind,
    destinationId,
    seconds: usualSeconds(kind),
  });
  return [
    at(3, 'refuse', last),
    at(5, 'drop', last),
    at(16, 'uplink_cut'),
    at(32, 'stall', first),
    at(46, 'relay_dies'),
  ];
}

export const scriptSeconds = (script: readonly ScriptedFault[]): number =>
  Math.max(0, ...script.map(({ afterS, seconds }) => afterS + seconds)) + CALM_S;

/** Those that come due between two instants of a script, `fromS` not included. */
export const dueBetween = (
  script: readonly ScriptedFault[],
  fromS: number,
  toS: number,
): readonly ScriptedFault[] => script.filter(({ afterS }) => afterS > fromS && afterS <= toS);
