import { AAC_FRAME_SAMPLES } from '../media/audio/adts';
import type { MediaBody } from '../media/flv/media-tag';
import {
  findParameterSets,
  readConfigurationRecord,
  splitLengths,
  type ParameterSets,
} from '../media/h264/h264';
import { SAMPLE_RATE_HZ } from '../programme/programme-clock';
import type { SourceAudioFrame, SourceVideoFrame } from '../programme/splicer';

const SAMPLES_PER_MS = SAMPLE_RATE_HZ / 1000;
/** Tags count whole ms, so that audio is placed by counting; only what lies further off than this has really moved. */
const MOVED_SAMPLES = 2 * AAC_FRAME_SAMPLES;

/** H.264 and AAC as tags carry them, as frames of a programme. Times on the source's own clock, samples. */
export class SourceFrames {
  private sets: ParameterSets | null = null;
  private nextAudioAt: number | null = null;

  constructor(
    private readonly video: (frame: SourceVideoFrame) => void,
    private readonly audio: (frame: SourceAudioFrame) => void,
  ) {}

  /**
   * @param atMs on a clock that only goes forward
   * Throws a RangeError on what is damaged.
   */
  take(body: MediaBody, atMs: number): void {
    const time = Math.round(atMs * SAMPLES_PER_MS);
    if (body.track === 'audio') {
      if (body.part === 'frame') this.takeAudio(body.data, time);
    } else if (body.part === 'configuration') {
      const { sps, pps } = readConfigurationRecord(body.data);
      this.sets = { sps: sps.slice(), pps: pps.slice() };
    } else if (body.part === 'frame') {
      this.takeVideo(
        splitLengths(body.data).filter(({ length }) => length > 0),
        body.key,
        time,
      );
    }
  }

  /** Whoever joins in the middle finds the parameter sets before every keyframe: encoders often send them once. */
  private takeVideo(units: Uint8Array[], key: boolean, time: number): void {
    if (units.length === 0) return;
    if (!key || findParameterSets(units)) this.video({ time, key, units });
    else if (this.sets) this.video({ time, key, units: [this.sets.sps, this.sets.pps, ...units] });
  }

  private takeAudio(frame: Uint8Array, time: number): void {
    const counted = this.nextAudioAt;
    const at = counted !== null && Math.abs(counted - time) <= MOVED_SAMPLES ? counted : time;
    this.nextAudioAt = at + AAC_FRAME_SAMPLES;
    this.audio({ time: at, frame });
  }
}
