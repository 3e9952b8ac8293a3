import { computed, effect, inject, Injectable, untracked } from '@angular/core';
import { PROGRAMME_PUBLISHER } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { RoomLink } from '../../people/room/room-link';
import { ComposingDesk } from '../composing-desk';
import { deskId } from '../desk-id';

/**
 * Ties the room of guests to the stage: guests who send become sources of the programme, the room hears who is on
 * stage, and the programme goes back into it as long as a guest is there to see it.
 */
@Injectable({ providedIn: 'root' })
export class RoomSources {
  private readonly room = inject(RoomLink);
  private readonly desk = inject(ComposingDesk);
  private showId: string | null = null;
  private readonly taken = new Map<string, { stream: MediaStream; voice: HTMLAudioElement }>();
  private returning = false;

  private readonly composing = computed(() => this.desk.status() === 'composing');
  private readonly guests = computed(() => this.room.view()?.people ?? []);
  private readonly someoneIsIn = computed(() => this.guests().length > 0);

  constructor() {
    effect(() => {
      const publishers = this.composing() ? this.guests().map(({ personId }) => personId) : [];
      untracked(() => this.room.want(publishers));
    });
    effect(() => {
      const streams = this.composing() ? this.room.streams() : {};
      untracked(() => this.take(streams));
    });
    effect(() => {
      const stage = this.desk.onProgramme();
      if (this.composing()) untracked(() => this.room.setStage(stage));
    });
    effect(() => {
      const wanted = this.composing() && this.someoneIsIn();
      untracked(() => this.sendBack(wanted));
    });
  }

  /** A desk shows this show: it is in the room from now on, until another show is opened. */
  async open(showId: string): Promise<void> {
    if (this.showId === showId) return;
    this.showId = showId;
    await this.room.enter({ showId, placeId: await deskId() });
  }

  private take(streams: Readonly<Record<string, MediaStream>>): void {
    for (const [id, { stream, voice }] of this.taken) {
      if (streams[id] === stream) continue;
      voice.srcObject = null;
      this.taken.delete(id);
      this.desk.sources.lose(sourceId('camera', id));
    }
    for (const [id, stream] of Object.entries(streams)) {
      if (id === PROGRAMME_PUBLISHER || this.taken.has(id)) continue;
      // Heard at the desk as well; and browsers let sound from the network flow only where somebody plays it.
      const voice = new Audio();
      voice.srcObject = stream;
      void voice.play().catch(() => undefined);
      this.taken.set(id, { stream, voice });
      this.desk.sources.addGuest(id, stream);
    }
  }

  private sendBack(wanted: boolean): void {
    if (wanted === this.returning) return;
    this.returning = wanted;
    if (!wanted) {
      this.desk.returnTo(null);
      this.room.send(null);
      return;
    }
    const video = new MediaStreamTrackGenerator<VideoFrame>({ kind: 'video' });
    const audio = new MediaStreamTrackGenerator<AudioData>({ kind: 'audio' });
    this.desk.returnTo({ video: video.writable, audio: audio.writable });
    this.room.send(new MediaStream([video, audio]));
  }
}
