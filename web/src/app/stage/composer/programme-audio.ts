const PROGRAMME_RATE_HZ = 48_000;

/** One or two channels of what was recorded or decoded, at the programme's rate; closes it. */
export function channelsOf(data: AudioData): Float32Array<ArrayBuffer>[] {
  const channels = Array.from({ length: Math.min(2, data.numberOfChannels) }, (_, planeIndex) => {
    const plane = new Float32Array(data.numberOfFrames);
    data.copyTo(plane, { planeIndex, format: 'f32-planar' });
    return atProgrammeRate(plane, data.sampleRate);
  });
  data.close();
  return channels;
}

/** Most devices give 48 kHz; what they give else is brought there in a straight line. */
function atProgrammeRate(samples: Float32Array<ArrayBuffer>, rateHz: number): Float32Array<ArrayBuffer> {
  if (rateHz === PROGRAMME_RATE_HZ) return samples;
  const count = Math.round((samples.length * PROGRAMME_RATE_HZ) / rateHz);
  return Float32Array.from({ length: count }, (_, i) => {
    const at = (i * (samples.length - 1)) / Math.max(1, count - 1);
    const low = Math.floor(at);
    const high = Math.min(samples.length - 1, low + 1);
    return samples[low]! + (samples[high]! - samples[low]!) * (at - low);
  });
}
