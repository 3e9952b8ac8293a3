import {
  BUG_LAYER,
  geometry,
  nameLayerOf,
  NO_CHAT_BOX,
  PROGRAMME,
  sourceId,
  type Scene,
} from '@juncta/core/stage';
import { FRESH_DESK, recallDesk, rememberDesk } from './desk-memory';
import { MANNERS, PLAIN_DRESSING } from '@juncta/core/dressing';
import { drawChatEntries } from './dressed/drawn-chat-box';
import { drawScene } from './dressed/drawn-scene';
import { drawBackdrop, drawSlate } from './dressed/grounds';
import { Source } from './composer/source';
import { findMissing } from './support';

describe('the memory of a desk', () => {
  afterEach(() => sessionStorage.clear());

  it('gives back how the desk was set, for each show its own', () => {
    const memory = {
      ...FRESH_DESK,
      sources: { [sourceId('camera', 'a')]: { origin: 'pattern' as const } },
      composing: true,
    };
    rememberDesk('one', memory);
    expect(recallDesk('one')).toEqual(memory);
    expect(recallDesk('two')).toEqual(FRESH_DESK);
  });

  for (const nonsense of [
    '{',
    'null',
    '[]',
    '{"sources":5}',
    '{"sources":{"somebody":{"origin":"pattern"}}}',
    '{"sources":{"camera:a:1":5}}',
  ]) {
    it(`begins afresh instead of with ${nonsense}`, () => {
      sessionStorage.setItem('juncta.desk.one', nonsense);
      expect(recallDesk('one')).toEqual(FRESH_DESK);
    });
  }
});

/** Each that is there, as `#rrggbb`, wholly opaque. */
function coloursOf(image: ImageBitmap): Set<string> {
  const context = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
  context.drawImage(image, 0, 0);
  const { data } = context.getImageData(0, 0, image.width, image.height);
  const colours = new Set<string>();
  for (let i = 0; i < data.length; i += 4)
    if (data[i + 3] === 255)
      colours.add(`#${[0, 1, 2].map((at) => data[i + at]!.toString(16).padStart(2, '0')).join('')}`);
  return colours;
}

describe('what the page draws for the composer', () => {
  const look = { dressing: PLAIN_DRESSING, size: PROGRAMME };

  it('is as large as it stands in the programme', () => {
    const [backdrop, slate] = [
      drawBackdrop(PLAIN_DRESSING, PROGRAMME),
      drawSlate(
        PLAIN_DRESSING,
        'before',
        { title: 'A very long title that does not end'.repeat(5), begins: '19:00' },
        PROGRAMME,
      ),
    ];
    expect([backdrop.image.width, backdrop.image.height, slate.width, slate.height]).toEqual([
      1280, 720, 1280, 720,
    ]);
    const people = Array.from({ length: 9 }, (_, i) => ({
      id: String(i),
      name: i === 3 ? 'مريم الخوارزمي' : i === 4 ? 'Wanjiru '.repeat(40) : 'Wanjiru Halloran',
      about: i % 2 ? 'Cereal scientist' : '',
    }));
    const cameras = people.map(({ id }) => sourceId('camera', id));
    const scene: Scene = {
      layout: 'grid',
      own: null,
      names: true,
      layers: [
        ...cameras.map((source) => ({ source, place: { by: 'layout' as const } })),
        ...cameras.map((of) => ({ source: nameLayerOf(of), place: { by: 'layer' as const, of } })),
      ],
    };
    const { overlays } = drawScene(scene, people, {}, look);
    expect(Object.keys(overlays).length).toBe(9);
    for (const { source, rect } of geometry(scene, PROGRAMME)) {
      const plate = overlays[source];
      if (plate) expect([plate.width, plate.height]).toEqual([rect.width, rect.height]);
    }
    expect(Object.keys(drawScene(scene, people.slice(1), {}, look).overlays).length)
      .withContext('whoever is not of the show has no name')
      .toBe(8);
  });

  it('is written on a ground of any colour in whichever of the house’s words is read better there', () => {
    const line = { author: 'Ottoline Quist', place: 'Emberplay', text: 'Does rye need a longer rest?' };
    // Its accent is its ink: here it is to be told from it.
    const palette = { ...PLAIN_DRESSING.palette, accent: '#ff0000' };
    const { ink, paper } = palette;
    const dressed = { ...look, dressing: { ...PLAIN_DRESSING, palette } };
    for (const [colour, words] of [
      ['#ffe680', ink],
      ['#102040', paper],
    ] as const) {
      const box = { ...NO_CHAT_BOX, ground: 'own' as const, colour };
      const [entry] = drawChatEntries([line], box, dressed);
      const seen = coloursOf(entry!.image);
      // The ground is a little see-through, the letters are not.
      expect([seen.has(words), seen.has(words === ink ? paper : ink)])
        .withContext(colour)
        .toEqual([true, false]);
    }
    const twice = drawChatEntries([line, line], NO_CHAT_BOX, look).map(({ key }) => key);
    expect(new Set(twice).size).withContext('whoever says it twice is told apart').toBe(2);
  });

  const palette = {
    ground: '#000000',
    relief: '#00ffff',
    paper: '#ffffff',
    ink: '#0000ff',
    accent: '#ff0000',
  };
  for (const manner of MANNERS) {
    it(`is in the colours of the dressing, in the manner ${manner}, with the words of the house in their corner`, () => {
      const bug = {
        text: 'The Proving Hour',
        logo: null,
        corner: 'top_right' as const,
        size: 'usual' as const,
      };
      const dressing = { ...PLAIN_DRESSING, palette, manner, bug };
      const one = sourceId('camera', 'a');
      const scene: Scene = {
        layout: 'alone',
        own: null,
        names: true,
        layers: [
          { source: one, place: { by: 'layout' } },
          { source: nameLayerOf(one), place: { by: 'layer', of: one } },
        ],
      };
      const person = { id: 'a', name: 'Wanjiru Halloran', about: 'Cereal scientist' };
      const drawn = drawScene(scene, [person], {}, { dressing, size: PROGRAMME });
      expect(drawn.scene.layers.at(-1)!.source).toBe(BUG_LAYER);
      for (const [source, wanted] of [
        [nameLayerOf(one), manner === 'rail' ? ['#ff0000', '#ffffff'] : ['#ffffff', '#ff0000', '#0000ff']],
        [BUG_LAYER, ['#ffffff', '#ff0000', '#0000ff']],
      ] as const) {
        const colours = coloursOf(drawn.overlays[source]!);
        for (const colour of wanted)
          expect(colours.has(colour)).withContext(`${source}: ${colour}`).toBeTrue();
      }
    });
  }
});

describe('a source', () => {
  const canvasFrame = (timestamp: number) => {
    const canvas = new OffscreenCanvas(64, 36);
    canvas.getContext('2d');
    return new VideoFrame(canvas, { timestamp });
  };

  it('shows its latest picture and lets go of those before', async () => {
    const ended: string[] = [];
    const source = new Source(false, 0, (track) => ended.push(track));
    const [first, second] = [canvasFrame(0), canvasFrame(33_000)];
    let end = () => {};
    source.readVideo(
      new ReadableStream<VideoFrame>({
        start(controller) {
          controller.enqueue(first);
          controller.enqueue(second);
          end = () => controller.close();
        },
      }),
    );
    while (source.videoFrame?.timestamp !== 33_000) await new Promise((later) => setTimeout(later, 5));
    expect(first.format).withContext('closed').toBeNull();
    end();
    while (ended.length === 0) await new Promise((later) => setTimeout(later, 5));
    expect(ended).toEqual(['video']);
    expect(source.videoFrame).withContext('a lost camera leaves no frozen face').toBeNull();
  });

  it('brings sound of another rate to the programme’s', async () => {
    const source = new Source(false, 0, () => {});
    const samples = new Float32Array(16_000).fill(0.5);
    const data = new AudioData({
      format: 'f32-planar',
      sampleRate: 16_000,
      numberOfFrames: 16_000,
      numberOfChannels: 1,
      timestamp: 0,
      data: samples.slice(0, 16_000),
    });
    source.readAudio(
      new ReadableStream<AudioData>({
        start(controller) {
          controller.enqueue(data);
          controller.close();
        },
      }),
    );
    while (source.audio.waiting === 0) await new Promise((later) => setTimeout(later, 5));
    const [left, right] = [new Float32Array(960), new Float32Array(960)];
    source.audio.mixInto(left, right, 1);
    expect(left[500]).toBeCloseTo(0.5, 3);
    expect(right[500]).toBeCloseTo(0.5, 3);
  });
});

describe('what a browser lacks', () => {
  it('is nothing in this one', async () => {
    expect((await findMissing()).filter((one) => one !== 'devices')).toEqual([]);
  });
});
