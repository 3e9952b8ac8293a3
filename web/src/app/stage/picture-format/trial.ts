import { PLAIN_DRESSING } from '@juncta/core/dressing';
import { figuresOf, type PictureFormat } from '@juncta/core/programme';
import {
  changeScene,
  EMPTY_SCENE,
  isHeld,
  judgeTrials,
  sourceId,
  TRIAL_S,
  TRIAL_SOURCES,
  type Scene,
  type SceneEvent,
  type Trial,
} from '@juncta/core/stage';
import { findEncoding } from '../composer/encoders';
import {
  imagesOfScene,
  type ComposerMessage,
  type ComposerReport,
  type PatternMessage,
  type VideoEncoding,
} from '../messages';
import { drawScene, type Named } from '../dressed/drawn-scene';
import { drawBackdrop, drawSlate } from '../dressed/grounds';
import { loadFaces } from '../dressed/paper';
import { pictureFormatTexts } from './picture-format.texts';

/** The start of a composer is never smooth. */
const WARM_UP_FRAMES = 30;
/** A computer that makes no frames at all is not waited for. */
const PATIENCE_MS = 20_000;

/** Composes, for nobody, what a show may need at the worst, and tells what this computer holds. Null: it cannot encode it. */
export async function tryFormat(format: PictureFormat): Promise<ReturnType<typeof judgeTrials> | null> {
  const [encoding] = await Promise.all([findEncoding(format), loadFaces(PLAIN_DRESSING)]);
  if (!encoding) return null;
  const { rateHz } = figuresOf(format);
  const trials: Trial[] = [];
  for (const sources of TRIAL_SOURCES) {
    const trial = { sources, framesPerS: await framesPerS(encoding, sources) };
    trials.push(trial);
    if (isHeld(trial, rateHz)) break;
  }
  return judgeTrials(trials, rateHz);
}

/** The whole chain of a desk but the line. */
async function framesPerS(encoding: VideoEncoding, sources: number): Promise<number> {
  const people: Named[] = Array.from({ length: sources }, (_, i) => ({
    id: `trial-${i + 1}`,
    name: pictureFormatTexts.name(i + 1),
    about: '',
  }));
  const composer = new Worker(new URL('../composer/composer.worker', import.meta.url), { type: 'module' });
  const patterns = new Worker(new URL('../pattern/pattern.worker', import.meta.url), { type: 'module' });
  const encoded = new MessageChannel();
  try {
    const size = figuresOf(encoding.format);
    const programme = drawScene(sceneOf(people), people, {}, { dressing: PLAIN_DRESSING, size });
    const [backdrop, slate] = [
      drawBackdrop(PLAIN_DRESSING, size),
      drawSlate(PLAIN_DRESSING, 'break', { title: '', begins: '' }, size),
    ];
    const start: ComposerMessage = {
      type: 'start',
      uplink: encoded.port1,
      backdrop,
      slate,
      setting: { programme, armed: null, takes: 0, mixMs: 0 },
      encoding,
      videoKbps: size.wantedKbps,
    };
    composer.postMessage(start, [encoded.port1, backdrop.image, slate, ...imagesOfScene(programme)]);
    // Packets are taken and let go: they must not pile up.
    encoded.port2.onmessage = () => undefined;
    people.forEach(({ id, name }, index) => {
      const { port1, port2 } = new MessageChannel();
      const make: PatternMessage = { type: 'make', id, port: port1, index, name, grain: true };
      patterns.postMessage(make, [port1]);
      const made: ComposerMessage = { type: 'made_source', id: sourceId('camera', id), port: port2 };
      composer.postMessage(made, [port2]);
    });
    return await measured(composer);
  } finally {
    encoded.port2.close();
    composer.terminate();
    patterns.terminate();
  }
}

function sceneOf(people: readonly Named[]): Scene {
  const events: SceneEvent[] = people.map(({ id }) => ({
    type: 'bring_on',
    source: sourceId('camera', id),
  }));
  return events.reduce<Scene>((scene, event) => changeScene(scene, event) as Scene, {
    ...EMPTY_SCENE,
    layout: 'grid',
  });
}

/** Frames a second that the composer made, once it has begun. */
function measured(composer: Worker): Promise<number> {
  return new Promise((done) => {
    let from: { readonly made: number; readonly atMs: number } | null = null;
    const tooLong = setTimeout(() => done(0), PATIENCE_MS);
    composer.onmessage = ({ data }: MessageEvent<ComposerReport>) => {
      if (data.type !== 'figures') return;
      const { made } = data.pace;
      const nowMs = performance.now();
      if (!from) {
        if (made >= WARM_UP_FRAMES) from = { made, atMs: nowMs };
      } else if (nowMs - from.atMs >= TRIAL_S * 1000) {
        clearTimeout(tooLong);
        done(((made - from.made) * 1000) / (nowMs - from.atMs));
      }
    };
  });
}
