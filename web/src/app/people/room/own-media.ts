import type { PatternMessage, PatternPicture } from '../../stage/messages';

export type GuestLack = 'secure' | 'rtc';

/** What this browser lacks to come in at all; null when nothing. */
export function guestLacks(): GuestLack | null {
  if (!isSecureContext) return 'secure';
  return typeof RTCPeerConnection === 'undefined' ? 'rtc' : null;
}

/** A test picture is made only where tracks can be made. */
export const canMakePattern = () => typeof MediaStreamTrackGenerator !== 'undefined';

/** The same test pattern as at the desk, for whoever has no camera; it goes on in a hidden tab. */
export function openPattern(name: string): { readonly stream: MediaStream; readonly close: () => void } {
  const worker = new Worker(new URL('../../stage/pattern/pattern.worker', import.meta.url), {
    type: 'module',
  });
  const video = new MediaStreamTrackGenerator<VideoFrame>({ kind: 'video' });
  const audio = new MediaStreamTrackGenerator<AudioData>({ kind: 'audio' });
  const [videoFrames, audioFrames] = [video.writable.getWriter(), audio.writable.getWriter()];
  const { port1, port2 } = new MessageChannel();
  let samples = 0;
  let odd = false;
  port2.onmessage = ({ data }: MessageEvent<PatternPicture>) => {
    // Every second picture is enough of a test, and half the work.
    odd = !odd;
    if (odd && (videoFrames.desiredSize ?? 0) > 0)
      videoFrames.write(data.frame).catch(() => data.frame.close());
    else data.frame.close();
    const [audio] = data.audio;
    const timestamp = Math.round((samples * 1_000_000) / SAMPLE_RATE_HZ);
    samples += audio.length;
    const made = new AudioData({
      format: 'f32',
      sampleRate: SAMPLE_RATE_HZ,
      numberOfFrames: audio.length,
      numberOfChannels: 1,
      timestamp,
      data: audio,
    });
    audioFrames.write(made).catch(() => made.close());
  };
  // The third colour: the first two are what a desk gives its own people.
  const make: PatternMessage = { type: 'make', id: 'own', port: port1, index: 2, name, grain: false };
  worker.postMessage(make, [port1]);
  return {
    stream: new MediaStream([video, audio]),
    close: () => {
      worker.terminate();
      port2.close();
      video.stop();
      audio.stop();
    },
  };
}

const SAMPLE_RATE_HZ = 48_000;

/** How loud a stream is, 0 to 1, about ten times a second. Browsers let it run once somebody has pressed something. */
export function watchLevel(stream: MediaStream, tell: (level: number) => void): () => void {
  if (stream.getAudioTracks().length === 0) return () => undefined;
  const context = new AudioContext();
  const analyser = context.createAnalyser();
  context.createMediaStreamSource(stream).connect(analyser);
  const samples = new Float32Array(analyser.fftSize);
  const timer = setInterval(() => {
    void context.resume();
    analyser.getFloatTimeDomainData(samples);
    tell(samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0));
  }, 100);
  return () => {
    clearInterval(timer);
    void context.close();
  };
}
