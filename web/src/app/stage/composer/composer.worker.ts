import type { ComposerMessage, ComposerReport } from '../messages';
import { Composer } from './composer';

/** The composer's worker: nothing of the programme hangs on the page, which may be hidden or busy. */
let composer: Composer | null = null;

const report = (what: ComposerReport) => self.postMessage(what);

self.onmessage = ({ data }: MessageEvent<ComposerMessage>) => {
  if (data.type === 'start') composer ??= new Composer(data, report);
  else if (data.type === 'stop') {
    composer?.stop();
    composer = null;
  } else composer?.take(data);
};
