/** A camera and a microphone, opened for one person on this desk. Either may be missing. */
export interface OpenDevice {
  readonly video: MediaStreamTrack | null;
  readonly audio: MediaStreamTrack | null;
}

export type DeviceProblem = 'refused' | 'none' | 'busy';

const VIDEO: MediaTrackConstraints = {
  width: { ideal: 1280 },
  height: { ideal: 720 },
  frameRate: { ideal: 30, max: 30 },
};
const AUDIO: MediaTrackConstraints = {
  channelCount: { ideal: 1 },
  echoCancellation: true,
  noiseSuppression: true,
};

/** Opens both, or the one there is. */
export async function openDevices(): Promise<OpenDevice | DeviceProblem> {
  let problem: DeviceProblem = 'none';
  for (const request of [{ video: VIDEO, audio: AUDIO }, { video: VIDEO }, { audio: AUDIO }]) {
    try {
      const stream = await navigator.mediaDevices.getUserMedia(request);
      return { video: stream.getVideoTracks()[0] ?? null, audio: stream.getAudioTracks()[0] ?? null };
    } catch (error) {
      const { name } = error as DOMException;
      if (name === 'NotAllowedError' || name === 'SecurityError') return 'refused';
      if (name === 'NotReadableError' || name === 'AbortError') problem = 'busy';
    }
  }
  return problem;
}

/** A track's frames as a stream that can be handed to a worker. */
export function streamOf<T extends VideoFrame | AudioData>(
  track: MediaStreamTrack | null,
): ReadableStream<T> | null {
  return track && new MediaStreamTrackProcessor<T>({ track }).readable;
}
