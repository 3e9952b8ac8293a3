import { pictureConfig, SOUND_CONFIG } from './composer/encoders';

/** What a browser needs to compose, in the order in which it is asked for. */
export type Missing = 'secure' | 'workers' | 'picture_encoder' | 'sound_encoder' | 'devices';

/** What this browser lacks; empty when it can compose. `devices`: only test patterns then. */
export async function findMissing(): Promise<Missing[]> {
  const missing: Missing[] = [];
  if (!isSecureContext) missing.push('secure');
  if (typeof OffscreenCanvas === 'undefined' || typeof Worker === 'undefined') missing.push('workers');
  const picture = async () =>
    typeof VideoEncoder !== 'undefined' &&
    (await VideoEncoder.isConfigSupported(pictureConfig(4000))).supported;
  const sound = async () =>
    typeof AudioEncoder !== 'undefined' && (await AudioEncoder.isConfigSupported(SOUND_CONFIG)).supported;
  if (!(await picture().catch(() => false))) missing.push('picture_encoder');
  if (!(await sound().catch(() => false))) missing.push('sound_encoder');
  if (typeof MediaStreamTrackProcessor === 'undefined' || !navigator.mediaDevices) missing.push('devices');
  return missing;
}
