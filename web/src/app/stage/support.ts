import { USUAL_FORMAT } from '@juncta/core/programme';
import { AUDIO_CONFIG, findEncoding } from './composer/encoders';

/** What a browser needs to compose, in the order in which it is asked for. */
export type Missing = 'secure' | 'workers' | 'video_encoder' | 'audio_encoder' | 'devices';

/** What this browser lacks; empty when it can compose. `devices`: only test patterns then. */
export async function findMissing(): Promise<Missing[]> {
  const missing: Missing[] = [];
  if (!isSecureContext) missing.push('secure');
  if (typeof OffscreenCanvas === 'undefined' || typeof Worker === 'undefined') missing.push('workers');
  const audio = async () =>
    typeof AudioEncoder !== 'undefined' && (await AudioEncoder.isConfigSupported(AUDIO_CONFIG)).supported;
  if ((await findEncoding(USUAL_FORMAT)) === null) missing.push('video_encoder');
  if (!(await audio().catch(() => false))) missing.push('audio_encoder');
  if (typeof MediaStreamTrackProcessor === 'undefined' || !navigator.mediaDevices) missing.push('devices');
  return missing;
}
