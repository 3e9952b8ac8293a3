import {
  changeScene,
  EMPTY_SCENE,
  NO_GRAPHICS,
  sourceId,
  type Graphics,
  type Scene,
  type SceneEvent,
  type Slate,
  type SourceId,
} from '@juncta/core/stage';
import { ChatColumn } from '../stage/composer/chat-column';
import { ScenePicture, type Live, type SeenSource } from '../stage/composer/scene-picture';
import { drawGraphics } from '../stage/dressed/drawn-graphics';
import { drawMessageCard, drawScene, type Look } from '../stage/dressed/drawn-scene';
import { drawBackdrop, drawSlate } from '../stage/dressed/grounds';
import { imagesOf } from '../stage/messages';
import { dressingTexts } from './dressing.texts';

export type PreviewOf = 'people' | 'message' | 'slate' | 'graphics';

const { sample } = dressingTexts;
const IDS = sample.people.map(({ id }) => sourceId('camera', id));
/** After so long all that moves has come to rest, ms. */
const AT_REST_MS = 10_000;

/** Shows what viewers would see, drawn by the very same code. */
export function drawPreview(canvas: HTMLCanvasElement, of: PreviewOf, slate: Slate, look: Look): void {
  const context = canvas.getContext('2d')!;
  const show = (picture: CanvasImageSource) => context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  if (of === 'slate') {
    const drawn = drawSlate(look.dressing, slate, sample, look.size);
    show(drawn);
    drawn.close();
    return;
  }
  const sources = standIns();
  const backdrop = drawBackdrop(look.dressing, look.size);
  const chat = new ChatColumn();
  const live: Live = { get: (source) => sources.get(source), moving: () => undefined, chat };
  const scene = drawScene(sceneOf(of === 'people' ? 2 : 1), sample.people, {}, look);
  const picture = new ScenePicture(backdrop, scene, live, look.size);
  if (of === 'message') {
    const image = drawMessageCard(sample.author, sample.place, sample.message, look);
    picture.showCard('message', { image, untilMs: Infinity });
  }
  const graphics = of === 'graphics' ? drawGraphics(graphicsOf(look), look, CLOCK) : null;
  picture.setGraphics(graphics);
  picture.draw(0);
  picture.draw(AT_REST_MS);
  show(picture.canvas);
  picture.close();
  backdrop.image.close();
  if (graphics) imagesOf(graphics).forEach((image) => image.close());
  for (const { videoFrame } of sources.values()) videoFrame?.close();
}

/** The house's clock as of the sample: it stands. */
const CLOCK = { machineAtMs: 0, atMs: 0, rate: 0 };

/** All overlays there are, with what a desk may lay over them. */
const graphicsOf = ({ dressing }: Look): Graphics => ({
  ...NO_GRAPHICS,
  ticker: { isOn: true, lines: [sample.ticker] },
  clock: { isOn: true, reads: 'countdown', zone: 'UTC', untilMs: SAMPLE_COUNT_MS },
  score: { isOn: true, names: sample.sides, points: [3, 2] },
  overlays: dressing.overlays.map(({ id }) => id),
});
const SAMPLE_COUNT_MS = 299_000;

function sceneOf(people: number): Scene {
  const events: SceneEvent[] = IDS.slice(0, people).map((source) => ({ type: 'bring_on', source }));
  return events.reduce<Scene>((scene, event) => changeScene(scene, event) as Scene, EMPTY_SCENE);
}

/** Somebody before a wall, twice: made up, and in no colour of any palette. */
function standIns(): ReadonlyMap<SourceId, SeenSource> {
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
