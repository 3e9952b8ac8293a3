import { computed, DestroyRef, effect, inject, Injectable, untracked } from '@angular/core';
import type { RoomSource } from '@juncta/contract/people';
import { PROGRAMME_PUBLISHER, type OnStage } from '@juncta/core/people';
import {
  adjustmentOf,
  gainOf,
  nameOf,
  placedIn,
  seenIn,
  type SourceId,
  type Stage,
} from '@juncta/core/stage';
import { RoomLink } from '../../people/room/room-link';
import { ComposingDesk } from '../composing-desk';
import { deskId } from '../desk-id';
import { StageLink } from '../stage-link';

/** A screen of somebody whose line is lost keeps its place for this long: most are back within seconds. */
const MISSED_FOR_MS = 10_000;

interface Taken {
  readonly stream: MediaStream;
  readonly voice: HTMLAudioElement;
}

/**
 * Ties the room of guests to the stage: what guests send and a desk wants becomes a source of the programme, the room
 * hears what is on stage, and the programme goes back into it as long as a guest is there to see it.
 */
@Injectable({ providedIn: 'root' })
export class RoomSources {
  private readonly room = inject(RoomLink);
  private readonly desk = inject(ComposingDesk);
  private readonly stage = inject(StageLink);
  private showId: string | null = null;
  private readonly taken = new Map<SourceId, Taken>();
  /** Whatever was accepted besides first cameras, until it is over; with a timer while its owner is not there. */
  private readonly accepted = new Map<SourceId, ReturnType<typeof setTimeout> | null>();
  private returning = false;

  private readonly composing = computed(() => this.desk.status() === 'composing');
  private readonly guests = computed(() => this.room.view()?.people ?? []);
  private readonly wanted = computed(() =>
    this.guests()
      .flatMap(({ sources }) => sources)
      .filter(({ isAccepted }) => isAccepted),
  );
  private readonly someoneIsIn = computed(() => this.guests().length > 0);

  constructor() {
    effect(() => {
      const wanted = this.composing() ? this.wanted() : [];
      untracked(() => this.room.want(wanted.map(({ source }) => source)));
    });
    effect(() => {
      const [streams, wanted] = this.composing() ? [this.room.streams(), this.wanted()] : [{}, []];
      untracked(() => this.take(streams, wanted));
    });
    effect(() => {
      const guests = this.guests();
      if (this.composing()) untracked(() => this.follow(guests.map(({ personId }) => personId)));
    });
    effect(() => {
      const onStage = toldOf(this.stage.stage());
      if (this.composing()) untracked(() => this.tell(onStage));
    });
    effect(() => {
      const wanted = this.composing() && this.someoneIsIn();
      untracked(() => this.sendBack(wanted));
    });
    inject(DestroyRef).onDestroy(() => this.accepted.forEach((timer) => clearTimeout(timer ?? undefined)));
  }

  /** A desk shows this show: it is in the room from now on, until another show is opened. */
  async open(showId: string): Promise<void> {
    if (this.showId === showId) return;
    this.showId = showId;
    this.told = '';
    await this.room.enter({ showId, placeId: await deskId() });
  }

  /** The stage changes far more often than what the room is to know of it. */
  private told = '';
  private tell(onStage: readonly OnStage[]): void {
    const told = JSON.stringify(onStage);
    if (told === this.told) return;
    this.told = told;
    this.room.setStage(onStage);
  }

  private take(
    streams: Readonly<Record<string, MediaStream | undefined>>,
    wanted: readonly RoomSource[],
  ): void {
    for (const [id, { stream, voice }] of this.taken) {
      if (streams[id] === stream) continue;
      voice.srcObject = null;
      this.taken.delete(id);
      this.desk.sources.lose(id);
    }
    for (const offer of wanted) {
      const stream = streams[offer.source];
      if (!stream) continue;
      if (this.taken.has(offer.source)) {
        this.desk.sources.guestChanged(offer);
        continue;
      }
      // Heard at the desk as well; and browsers let sound from the network flow only where somebody plays it.
      const voice = new Audio();
      voice.srcObject = stream;
      void voice.play().catch(() => undefined);
      this.taken.set(offer.source, { stream, voice });
      this.desk.sources.addGuest(offer, stream);
    }
  }

  /** A screen that its owner ended is taken off: nobody is to look at its empty place. */
  private follow(there: readonly string[]): void {
    const wanted = new Set(this.wanted().map(({ source }) => source));
    for (const source of wanted) {
      const { kind, number } = nameOf(source);
      if (kind === 'camera' && number === 1) continue;
      clearTimeout(this.accepted.get(source) ?? undefined);
      this.accepted.set(source, null);
    }
    for (const [source, timer] of this.accepted) {
      if (wanted.has(source)) continue;
      if (there.includes(nameOf(source).owner)) this.isOver(source);
      else if (timer === null)
        this.accepted.set(
          source,
          setTimeout(() => this.isOver(source), MISSED_FOR_MS),
        );
    }
  }

  private isOver(source: SourceId): void {
    clearTimeout(this.accepted.get(source) ?? undefined);
    this.accepted.delete(source);
    if (this.composing()) this.desk.dropSource(source);
  }

  private sendBack(wanted: boolean): void {
    if (wanted === this.returning) return;
    this.returning = wanted;
    if (!wanted) {
      this.desk.returnTo(null);
      this.room.send(PROGRAMME_PUBLISHER, null);
      return;
    }
    const video = new MediaStreamTrackGenerator<VideoFrame>({ kind: 'video' });
    const audio = new MediaStreamTrackGenerator<AudioData>({ kind: 'audio' });
    this.desk.returnTo({ video: video.writable, audio: audio.writable });
    this.room.send(PROGRAMME_PUBLISHER, new MediaStream([video, audio]));
  }
}

/** What is on programme, as the room is to know of it. */
function toldOf(stage: Stage): OnStage[] {
  const seen = seenIn(stage.programme);
  return placedIn(stage.programme).map((source) => {
    const adjustment = adjustmentOf(stage, source);
    return { source, isSeen: seen.includes(source) && !adjustment.isHidden, isHeard: gainOf(adjustment) > 0 };
  });
}
