import {
  changeScene,
  EMPTY_SCENE,
  sourceId,
  type Scene,
  type SceneEvent,
  type SourceId,
} from '@juncta/core/stage';
import { ScenePicture, type SourcesSeen } from '../stage/composer/scene-picture';
import { drawMessageCard, drawScene, type Look } from '../stage/dressed/drawn-scene';
import { drawBackdrop, drawSlate } from '../stage/dressed/grounds';
import { dressingTexts } from './dressing.texts';

export type PreviewOf = 'people' | 'message' | 'slate';

const { sample } = dressingTexts;
const IDS = sample.people.map(({ id }) => sourceId('camera', id));
/** After so long all that moves has come to rest, ms. */
const AT_REST_MS = 10_000;

/** Shows what viewers would see, drawn by the very same code. */
export function drawPreview(canvas: HTMLCanvasElement, of: PreviewOf, look: Look): void {
  const context = canvas.getContext('2d')!;
  const show = (picture: CanvasImageSource) => context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  if (of === 'slate') {
    const slate = drawSlate(look.dressing, sample.title, look.size);
    show(slate);
    slate.close();
    return;
  }
  const sources = standIns();
  const backdrop = drawBackdrop(look.dressing, look.size);
  const picture = new ScenePicture(
    backdrop,
    drawScene(sceneOf(of === 'people' ? 2 : 1), sample.people, {}, look),
    sources,
    look.size,
  );
  if (of === 'message') {
    const image = drawMessageCard(sample.author, sample.place, sample.message, look);
    picture.showMessage({ image, untilMs: Infinity });
  }
  picture.draw(0);
  picture.draw(AT_REST_MS);
  show(picture.canvas);
  picture.close();
  backdrop.close();
  for (const { videoFrame } of sources.values()) videoFrame?.close();
}

function sceneOf(people: number): Scene {
  const events: SceneEvent[] = IDS.slice(0, people).map((source) => ({ type: 'bring_on', source }));
  return events.reduce<Scene>((scene, event) => changeScene(scene, event) as Scene, EMPTY_SCENE);
}

/** Somebody before a wall, twice: made up, and in no colour of any palette. */
function standIns(): SourcesSeen {
  if (typeof VideoFrame === 'undefined') return new Map();
  return new Map(
    IDS.map((id, i): [SourceId, { videoFrame: VideoFrame; videoFrameNumber: number }] => {
      const canvas = new OffscreenCanvas(640, 360);
      const context = canvas.getContext('2d')!;
      context.fillStyle = i === 0 ? '#8f8a82' : '#7d838a';
      context.fillRect(0, 0, 640, 360);
      context.fillStyle = i === 0 ? '#5c5650' : '#4d545c';
      context.beginPath();
      context.arc(320, 160, 62, 0, 2 * Math.PI);
      context.ellipse(320, 390, 150, 150, 0, 0, 2 * Math.PI);
      context.fill();
      return [id, { videoFrame: new VideoFrame(canvas, { timestamp: 0 }), videoFrameNumber: 1 }];
    }),
  );
}
