import { changeStage, type Stage, type StageChange, type StageRefusal } from './stage';

/**
 * A desk's copy of the stage that the server keeps. What is done at this desk is seen here at once and waits until the
 * server has it, so that a show can be driven while the server is away; what others did comes in between, in the server's
 * order.
 */
export interface StageReplica {
  /** As the server told it last; each of its changes gives the next version. */
  readonly known: KnownStage;
  /** Done here and not yet heard of from the server, in order. */
  readonly waiting: readonly WaitingChange[];
}

export interface KnownStage {
  readonly version: number;
  readonly stage: Stage;
}

export interface WaitingChange {
  /** A random UUID: given again, the server carries it out once. */
  readonly id: string;
  readonly change: StageChange;
}

export const startReplica = (known: KnownStage): StageReplica => ({ known, waiting: [] });

/** The stage as this desk shows it: what is known, and over it what waits. */
export const stageOf = ({ known, waiting }: StageReplica): Stage =>
  waiting.reduce((stage, { change }) => changeStage(stage, change).stage, known.stage);

/** Done at this desk. What cannot be is refused here already, and does not wait. */
export function act(
  replica: StageReplica,
  waiting: WaitingChange,
): { readonly replica: StageReplica; readonly refused: StageRefusal | null } {
  const { refused } = changeStage(stageOf(replica), waiting.change);
  if (refused !== null) return { replica, refused };
  return { replica: { ...replica, waiting: [...replica.waiting, waiting] }, refused: null };
}

/**
 * The server told the stage, as an answer or as an event: the two may cross, and the older one is no news.
 *
 * @param settled changes that it contains or that were refused; they are not given again
 */
export const hear = (
  { known, waiting }: StageReplica,
  told: KnownStage,
  settled: readonly string[],
): StageReplica => ({
  known: told.version > known.version ? told : known,
  waiting: waiting.filter(({ id }) => !settled.includes(id)),
});
