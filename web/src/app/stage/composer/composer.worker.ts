import { MEASURE_CHANNEL, type ComposerMessage, type ComposerReport } from '../messages';
import { Composer } from './composer';

/** The composer's worker: nothing of the programme hangs on the page, which may be hidden or busy. */
let composer: Composer | null = null;

/** Whoever measures listens here; nobody else has to know. */
const measure = new BroadcastChannel(MEASURE_CHANNEL);

const report = (what: ComposerReport) => {
  self.postMessage(what);
  measure.postMessage(what);
};

self.onmessage = ({ data }: MessageEvent<ComposerMessage>) => {
  if (data.type === 'start') composer ??= new Composer(data, report);
  else if (data.type === 'stop') {
    composer?.stop();
    composer = null;
  } else composer?.take(data);
};
