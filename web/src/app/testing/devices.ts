/** A made-up computer, whose devices come and go. */
export class Devices {
  readonly there = new Map<string, 'videoinput' | 'audioinput'>();
  readonly given: { id: string; track: MediaStreamTrack }[] = [];
  private readonly audio = new AudioContext();

  constructor() {
    spyOn(navigator.mediaDevices, 'enumerateDevices').and.callFake(() =>
      Promise.resolve(
        [...this.there].map(
          ([deviceId, kind]) => ({ deviceId, kind, label: `The ${deviceId}` }) as MediaDeviceInfo,
        ),
      ),
    );
    spyOn(navigator.mediaDevices, 'getUserMedia').and.callFake((asked) => this.give(asked!));
  }
  plugIn(...ids: string[]): void {
    for (const id of ids) this.there.set(id, id.startsWith('camera') ? 'videoinput' : 'audioinput');
  }
  /** The last track that was given of a device. */
  track(id: string): MediaStreamTrack {
    return this.given.filter((one) => one.id === id).at(-1)!.track;
  }
  close(): void {
    void this.audio.close();
  }

  private give(asked: MediaStreamConstraints): Promise<MediaStream> {
    const stream = new MediaStream();
    for (const [kind, wanted] of [
      ['videoinput', asked.video],
      ['audioinput', asked.audio],
    ] as const) {
      if (!wanted) continue;
      const exact = ((wanted as MediaTrackConstraints).deviceId as { exact: string } | undefined)?.exact;
      const id = exact ?? [...this.there].find(([, one]) => one === kind)?.[0];
      if (id === undefined || !this.there.has(id))
        return Promise.reject(new DOMException('no', 'NotFoundError'));
      const track =
        kind === 'videoinput'
          ? document.createElement('canvas').captureStream().getVideoTracks()[0]!
          : this.audio.createMediaStreamDestination().stream.getAudioTracks()[0]!;
      spyOn(track, 'getSettings').and.returnValue({ deviceId: id });
      this.given.push({ id, track });
      stream.addTrack(track);
    }
    return Promise.resolve(stream);
  }
}
