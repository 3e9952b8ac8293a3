import { openDevices, type OpenDevice } from './devices';

describe('camera and microphone', () => {
  const named = (name: string) => new DOMException('no', name);
  /** What the browser answers to the wish for both, for video alone, for audio alone. */
  function answers(...given: (readonly ('video' | 'audio')[] | string)[]): jasmine.Spy {
    const left = [...given];
    return spyOn(navigator.mediaDevices, 'getUserMedia').and.callFake(() => {
      const next = left.shift()!;
      if (typeof next === 'string') return Promise.reject(named(next));
      return Promise.resolve(streamWith(next));
    });
  }
  function streamWith(kinds: readonly ('video' | 'audio')[]): MediaStream {
    const stream = new MediaStream();
    if (kinds.includes('video'))
      stream.addTrack(document.createElement('canvas').captureStream().getVideoTracks()[0]!);
    if (kinds.includes('audio')) {
      const context = new AudioContext();
      stream.addTrack(context.createMediaStreamDestination().stream.getAudioTracks()[0]!);
      void context.close();
    }
    return stream;
  }
  const kindsOf = ({ video, audio }: OpenDevice) => [video?.kind ?? null, audio?.kind ?? null];

  it('are opened both at once, asked for no more than the programme can use', async () => {
    const asked = answers(['video', 'audio']);
    expect(kindsOf((await openDevices()) as OpenDevice)).toEqual(['video', 'audio']);
    expect(asked).toHaveBeenCalledTimes(1);
    expect(asked.calls.first().args[0]).toEqual({
      video: jasmine.objectContaining({ width: { ideal: 1280 }, frameRate: { ideal: 30, max: 30 } }),
      audio: jasmine.objectContaining({ echoCancellation: true }),
    });
  });

  const CASES: [string, Parameters<typeof answers>, unknown][] = [
    ['is the picture alone where there is no microphone', ['NotFoundError', ['video']], ['video', null]],
    [
      'is the sound alone where there is no camera',
      ['NotFoundError', 'NotFoundError', ['audio']],
      [null, 'audio'],
    ],
    [
      'is the sound alone where another program has the camera',
      ['NotReadableError', 'NotReadableError', ['audio']],
      [null, 'audio'],
    ],
  ];
  for (const [what, given, wanted] of CASES) {
    it(what, async () => {
      answers(...given);
      expect(kindsOf((await openDevices()) as OpenDevice)).toEqual(wanted as [string | null, string | null]);
    });
  }

  const PROBLEMS: [string, Parameters<typeof answers>, string][] = [
    ['nobody lets us have them', ['NotAllowedError'], 'refused'],
    ['there are none', ['NotFoundError', 'NotFoundError', 'NotFoundError'], 'none'],
    ['another program has them', ['NotReadableError', 'NotReadableError', 'NotFoundError'], 'busy'],
  ];
  for (const [what, given, wanted] of PROBLEMS) {
    it(`are said to be missing when ${what}`, async () => {
      const asked = answers(...given);
      expect(await openDevices()).toBe(wanted as never);
      expect(asked).toHaveBeenCalledTimes(given.length);
    });
  }
});
