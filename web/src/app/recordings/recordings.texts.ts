import type { Recording } from '@juncta/contract/recordings';

/** Texts of this part, marked for Angular's own translation. */

export const recordingKinds: Record<Recording['kind'], string> = {
  programme: $localize`:@@recording.programme:Programme`,
  aired: $localize`:@@recording.aired:Aired`,
};

export const recordingAbout: Record<Recording['kind'], string> = {
  programme: $localize`:@@recording.programmeText:what the desk composed, complete`,
  aired: $localize`:@@recording.airedText:what viewers saw`,
};

export const recordingWords: Record<Recording['status'], string> = {
  recording: $localize`:@@recording.recording:recording`,
  paused: $localize`:@@recording.paused:paused, the disk is full`,
  finishing: $localize`:@@recording.finishing:the file is being made`,
  ready: $localize`:@@recording.ready:ready`,
  failed: $localize`:@@recording.failed:could not be made; its parts are kept on the relay`,
};

export const recordingTexts = {
  packetsMissing: (packets: number, seconds: string, isKept: boolean) =>
    (packets === 1
      ? $localize`:@@relay.packetMissing:1 packet is missing: the picture stands still for ${seconds}:s: s.`
      : $localize`:@@relay.packetsMissing:${packets}:count: packets are missing: the picture stands still for ${seconds}:s: s in all.`) +
    (isKept ? ` ${$localize`:@@relay.partsKept:The damaged parts are kept on the relay.`}` : ''),
  damaged: $localize`:@@relay.damaged:Some of what was recorded could not be read. The damaged parts are kept on the relay.`,
  recordings: $localize`:@@relay.recordings:Recordings`,
  noRecordings: $localize`:@@relay.noRecordings:The show is recorded from its first feed on.`,
  watch: $localize`:@@relay.watch:Watch`,
  player: (kind: string) => $localize`:@@recording.player:${kind}:kind: recording`,
  watchName: (kind: string) => $localize`:@@relay.watchName:Watch the ${kind}:kind: recording`,
  save: $localize`:@@relay.save:Save file`,
  saveName: (kind: string) => $localize`:@@relay.saveName:Save file of the ${kind}:kind: recording`,
  size: (mb: string) => $localize`:@@relay.size:${mb}:mb: MB`,
  closePlayer: $localize`:@@relay.closePlayer:Close`,
};
