import { computed, inject, Injectable, signal } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { streamOf } from '@juncta/contract/events';
import { changeStage, MOST_CHANGES, readStage } from '@juncta/contract/stage';
import {
  act,
  EMPTY_STAGE,
  hear,
  placedIn,
  stageOf,
  startReplica,
  type Layout,
  type SceneEvent,
  type SourceId,
  type Stage,
  type StageChange,
  type StageRefusal,
} from '@juncta/core/stage';
import { firstValueFrom, retry, Subject, throwError, timer } from 'rxjs';
import { Api, nobodyThere } from '../api/api';
import { EventFeed } from '../api/event-feed';

const FOLLOWER = 'the stage';
/** Nobody answered: so long later it is tried again. */
const AGAIN_MS = 1000;

/**
 * The stage of one show, as the server keeps it and this tab drives it. It lives longer than the desk's page, since what is
 * composed here follows it whatever page is looked at. What is done here shows at once, server or not.
 */
@Injectable({ providedIn: 'root' })
export class StageLink {
  private readonly api = inject(Api);
  private readonly feed = inject(EventFeed);
  private readonly replica = signal(startReplica({ version: 0, stage: EMPTY_STAGE }));
  private showId: string | null = null;
  private sending = false;

  readonly stage = computed(() => stageOf(this.replica()));
  /** Done here, and not yet at the server. */
  readonly waiting = computed(() => this.replica().waiting.length);
  /** Why what was done last was not; null: it was. */
  readonly refused = signal<StageRefusal | ErrorBody | null>(null);
  /** As soon as the stage is another, whether this page is looked at or not. */
  readonly changed = new Subject<Stage>();

  /** What keys change: what is armed, or else what is on programme. */
  readonly scene = computed(() => this.stage().armed ?? this.stage().programme);
  readonly isArmed = computed(() => this.stage().armed !== null);

  /** Follows the stage of this show from now on, and again after somebody else signed in. Done when it is known. */
  async open(showId: string): Promise<void> {
    if (this.showId === showId && this.feed.follows(FOLLOWER)) return;
    if (this.showId !== showId) this.put(startReplica({ version: 0, stage: EMPTY_STAGE }));
    this.showId = showId;
    this.refused.set(null);
    await this.read(showId);
  }

  bringOn(source: SourceId): void {
    this.change({ type: 'bring_on', source });
  }

  takeOff(source: SourceId): void {
    this.change({ type: 'take_off', source });
  }

  setLayout(layout: Layout): void {
    this.change({ type: 'layout', layout });
  }

  setNames(on: boolean): void {
    this.change({ type: 'names', on });
  }

  /** Of what is armed, or else of what is on programme. */
  change(event: SceneEvent): void {
    this.do({ type: 'scene', event });
  }

  /** Prepares what comes next, or drops what was prepared. */
  arm(on: boolean): void {
    this.do({ type: on ? 'arm' : 'disarm' });
  }

  take(): void {
    this.do({ type: 'take', takes: this.stage().takes });
  }

  /** @returns whether it is on the stage, or will be */
  isPlaced(source: SourceId): boolean {
    return placedIn(this.scene()).includes(source);
  }

  do(change: StageChange): void {
    if (this.showId === null) return;
    const { replica, refused } = act(this.replica(), { id: crypto.randomUUID(), change });
    this.refused.set(refused);
    if (refused !== null) return;
    this.put(replica);
    void this.send(this.showId);
  }

  private put(replica: ReturnType<typeof startReplica>): void {
    this.replica.set(replica);
    this.changed.next(this.stage());
  }

  private async read(showId: string): Promise<void> {
    const asked = this.api.call(readStage, { params: { showId } }).pipe(retry({ delay: whileNobodyIsThere }));
    const read = await firstValueFrom(asked).catch((error: unknown) => {
      this.refused.set(error as ErrorBody);
      return null;
    });
    if (!read || this.showId !== showId) return;
    const { known, seq } = read;
    this.put(hear(this.replica(), known, []));
    const afresh = () => void this.read(showId);
    this.feed.follow(FOLLOWER, streamOf('stage', showId), seq, afresh, ({ payload }) =>
      this.put(hear(this.replica(), payload.known, payload.done)),
    );
  }

  /** One request at a time, in order; until somebody takes it. */
  private async send(showId: string): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    try {
      for (;;) {
        const changes = this.replica().waiting.slice(0, MOST_CHANGES);
        if (changes.length === 0 || this.showId !== showId) return;
        await this.give(showId, changes);
      }
    } finally {
      this.sending = false;
    }
  }

  private async give(showId: string, changes: ReturnType<typeof startReplica>['waiting']): Promise<void> {
    const ids = changes.map(({ id }) => id);
    const asked = this.api.call(changeStage, { params: { showId }, body: { changes: [...changes] } });
    try {
      const { known, refused } = await firstValueFrom(asked.pipe(retry({ delay: whileNobodyIsThere })));
      if (this.showId !== showId) return;
      this.put(hear(this.replica(), known, ids));
      if (refused.length > 0) this.refused.set(refused.at(-1)!.reason);
    } catch (error) {
      if (this.showId !== showId) return;
      // Nobody takes these: what the server has is what counts.
      this.put(hear(this.replica(), this.replica().known, ids));
      this.refused.set(error as ErrorBody);
    }
  }
}

const whileNobodyIsThere = (error: ErrorBody) =>
  nobodyThere(error) ? timer(AGAIN_MS) : throwError(() => error);
