import type { Size } from '@juncta/core/stage';

/** A camera and a microphone, opened for one person on this desk. Either may be missing. */
export interface OpenDevice {
  readonly video: MediaStreamTrack | null;
  readonly audio: MediaStreamTrack | null;
}

export type DeviceProblem =
  | 'refused'
  | 'none'
  | 'busy'
  /** None was chosen, or none may be. */
  | 'no_screen'
  /** By whoever shared it, in the browser's own bar. */
  | 'screen_ended';

/** Which devices, by the ids that the browser gives them; undefined: the usual one; null: none. */
export interface DeviceChoice {
  readonly video?: string | null;
  readonly audio?: string | null;
}

export interface NamedDevice {
  readonly id: string;
  readonly kind: 'video' | 'audio';
  /** As the browser names it; empty before anything was allowed. */
  readonly name: string;
}

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
/** How a screen is taken. */
export interface ScreenUse {
  /** Of the programme, px: what is larger is made smaller by the browser, which does it with less effort than a composer. */
  readonly size: Size;
  /** A film or something else that moves all the time; otherwise letters, for which half the frames are enough. */
  readonly isFilm: boolean;
}
const [LETTERS_RATE_HZ, FILM_RATE_HZ] = [15, 30];

/** Opens both, or the one there is. */
export async function openDevices(choice: DeviceChoice = {}): Promise<OpenDevice | DeviceProblem> {
  const video = choice.video === null ? null : chosen(VIDEO, choice.video);
  const audio = choice.audio === null ? null : chosen(AUDIO, choice.audio);
  const both = video && audio ? [{ video, audio }] : [];
  const requests = [...both, ...(video ? [{ video }] : []), ...(audio ? [{ audio }] : [])];
  let problem: DeviceProblem = 'none';
  for (const request of requests) {
    try {
      return tracksOf(await navigator.mediaDevices.getUserMedia(request));
    } catch (error) {
      const { name } = error as DOMException;
      if (name === 'NotAllowedError' || name === 'SecurityError') return 'refused';
      if (name === 'NotReadableError' || name === 'AbortError') problem = 'busy';
    }
  }
  return problem;
}

/** The browser asks which screen, window or tab, and whether its sound comes too. */
export async function openScreen({ size, isFilm }: ScreenUse): Promise<OpenDevice | DeviceProblem> {
  const rateHz = isFilm ? FILM_RATE_HZ : LETTERS_RATE_HZ;
  const video: MediaTrackConstraints = {
    width: { max: size.width },
    height: { max: size.height },
    frameRate: { ideal: rateHz, max: FILM_RATE_HZ },
  };
  try {
    return tracksOf(await navigator.mediaDevices.getDisplayMedia({ video, audio: true }));
  } catch {
    return 'no_screen';
  }
}

export async function listDevices(): Promise<NamedDevice[]> {
  const all = await navigator.mediaDevices.enumerateDevices();
  return all.flatMap(({ kind, deviceId, label }) => {
    if (kind === 'audiooutput' || deviceId === '') return [];
    return [
      { id: deviceId, kind: kind === 'videoinput' ? ('video' as const) : ('audio' as const), name: label },
    ];
  });
}

const tracksOf = (stream: MediaStream): OpenDevice => ({
  video: stream.getVideoTracks()[0] ?? null,
  audio: stream.getAudioTracks()[0] ?? null,
});

const chosen = (usual: MediaTrackConstraints, id: string | undefined): MediaTrackConstraints =>
  id === undefined ? usual : { ...usual, deviceId: { exact: id } };

/** A track's frames as a stream that can be handed to a worker. */
export function streamOf<T extends VideoFrame | AudioData>(
  track: MediaStreamTrack | null,
): ReadableStream<T> | null {
  return track && new MediaStreamTrackProcessor<T>({ track }).readable;
}
