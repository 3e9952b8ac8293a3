import { PROGRAMME, outsideSource, sourceId, type SourceAtHand, type SourceId } from '@juncta/core/stage';
import type { DeskMemory } from '../desk-memory';
import type { ComposerMessage } from '../messages';
import { Devices } from '../../testing/devices';
import { DeskSources } from './desk-sources';

const ODALYS = sourceId('camera', 'odalys');

describe('the sources of a desk', () => {
  let devices: Devices;
  let sources: DeskSources;
  let told: readonly SourceAtHand[];
  let remembered: DeskMemory['sources'];
  let gone: SourceId[];
  const messages: ComposerMessage[] = [];
  const composer = { postMessage: (message: ComposerMessage) => messages.push(message) } as unknown as Worker;

  beforeEach(() => {
    messages.length = 0;
    gone = [];
    devices = new Devices();
    sources = new DeskSources({
      composer: () => composer,
      people: () => [],
      picture: () => PROGRAMME,
      remember: (all) => (remembered = all),
      tell: (all) => (told = all),
      // Nobody answers there.
      line: () => ({ uplinkUrl: 'ws://127.0.0.1:9/uplink', ticket: 'a ticket' }),
      ticketRefused: () => undefined,
      gone: (id) => {
        gone.push(id);
        sources.lose(id);
      },
    });
  });
  afterEach(() => {
    sources.letGo();
    devices.close();
  });
  const fates = (id: SourceId) => {
    const { video, audio } = sources.known()[id]!;
    return [video, audio];
  };
  const pullOut = (camera: string) => {
    devices.there.delete(camera);
    devices.track(camera).stop();
    sources.ended(ODALYS, 'video');
  };
  const settled = () => new Promise((turn) => setTimeout(turn, 20));
  const lastFor = (id: SourceId) =>
    messages.filter((one) => one.type === 'device_source' && one.id === id).length;

  it('are the outside pictures that are wanted, each as one source', () => {
    const made = () => messages.flatMap((one) => (one.type === 'made_source' ? [one.id] : []));
    const whole = outsideSource('hall');
    const origins = () => told.map(({ source, origin }) => `${source} ${origin}`);
    sources.followOutside([{ inputId: 'hall', source: whole }]);
    sources.followOutside([{ inputId: 'hall', source: whole }]);
    expect(origins()).toEqual([`${whole} outside`]);
    // Nothing has come of it yet.
    expect(fates(whole)).toEqual(['gone', 'gone']);
    expect(made()).toEqual([whole]);
    sources.followOutside([{ inputId: 'hall', source: ODALYS }]);
    expect(origins()).toEqual([`${ODALYS} outside`]);
    // Another input stands for her from now on.
    sources.followOutside([{ inputId: 'balcony', source: ODALYS }]);
    expect(made()).toEqual([whole, ODALYS, ODALYS]);
    // A reload finds them in the stage, and not here.
    expect(remembered).toEqual({});
    sources.followOutside([]);
    expect(told).toEqual([]);
    expect(messages.filter(({ type }) => type === 'drop_source').length).toBe(3);
  });

  it('are cameras and microphones by their names, several of one person', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await sources.addAnotherCamera('odalys', {});
    await sources.addAnotherCamera('odalys', { video: 'camera-b', audio: null });
    const second = sourceId('camera', 'odalys', 2);
    expect(told.map(({ source }) => source)).toEqual([ODALYS, second]);
    expect(devices.given.map(({ id }) => id)).toEqual(['camera-a', 'mic-a', 'camera-b']);
    expect(remembered).toEqual({
      [ODALYS]: { origin: 'camera' as const, choice: {} },
      [second]: { origin: 'camera' as const, choice: { video: 'camera-b', audio: null } },
    });
  });

  it('say that a camera is gone, show another that is left, and take the first back when it returns', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await sources.addCamera(ODALYS);
    pullOut('camera-a');
    expect(fates(ODALYS)).toEqual(['gone', 'there']);
    await settled();
    expect(fates(ODALYS)).toEqual(['replaced', 'there']);
    expect(devices.track('camera-b').readyState).toBe('live');
    expect(lastFor(ODALYS)).toBe(2);
    devices.plugIn('camera-a');
    sources.devicesChanged();
    await settled();
    // The end of the one that stood in is heard of a moment later.
    sources.ended(ODALYS, 'video');
    await settled();
    expect(fates(ODALYS)).toEqual(['there', 'there']);
    expect([devices.track('camera-a').readyState, devices.track('camera-b').readyState]).toEqual([
      'live',
      'ended',
    ]);
    expect(devices.track('mic-a').readyState).withContext('goes on throughout').toBe('live');
  });

  it('leave a device alone that somebody else at this desk uses', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await sources.addCamera(ODALYS);
    await sources.addAnotherCamera('odalys', { video: 'camera-b', audio: null });
    pullOut('camera-a');
    await settled();
    expect(fates(ODALYS)).toEqual(['gone', 'there']);
    expect(devices.given.length).toBe(3);
  });

  it('are screens with their sound; one that is shared no longer is off the stage', async () => {
    const stream = new MediaStream([document.createElement('canvas').captureStream().getVideoTracks()[0]!]);
    const asked = spyOn(navigator.mediaDevices, 'getDisplayMedia').and.resolveTo(stream);
    await sources.addScreen('odalys', false);
    const { audio, video } = asked.calls.first().args[0] as { audio: boolean; video: MediaTrackConstraints };
    expect(audio).toBeTrue();
    // No larger than the programme, and as many frames as letters need.
    expect(video).toEqual({ width: { max: 1280 }, height: { max: 720 }, frameRate: { ideal: 15, max: 30 } });
    const screen = sourceId('screen', 'odalys');
    expect(told.map(({ source, origin }) => [source, origin])).toEqual([[screen, 'screen']]);
    expect(remembered).withContext('nobody chooses it again').toEqual({});
    sources.ended(screen, 'audio');
    expect([gone, fates(screen)]).toEqual([[], ['there', 'gone']]);
    stream.getTracks().forEach((track) => track.stop());
    sources.ended(screen, 'video');
    expect([gone, told, sources.deviceProblem()]).toEqual([[screen], [], 'screen_ended']);
  });

  it('are exchanged for others by their names, and stay so after a reload', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await sources.addCamera(ODALYS);
    await sources.choose(ODALYS, 'video', 'camera-b');
    expect(devices.track('camera-a').readyState).toBe('ended');
    expect(sources.streamOf(ODALYS).getVideoTracks()).toEqual([devices.track('camera-b')]);
    expect(remembered).toEqual({ [ODALYS]: { origin: 'camera' as const, choice: { video: 'camera-b' } } });
    // What was chosen before is no longer taken back.
    sources.devicesChanged();
    await settled();
    expect(devices.track('camera-b').readyState).toBe('live');
    await sources.choose(ODALYS, 'audio', null);
    expect(fates(ODALYS)).toEqual(['there', 'none']);
    await sources.choose(ODALYS, 'video', 'camera-z');
    expect([sources.deviceProblem(), fates(ODALYS)]).toEqual(['busy', ['there', 'none']]);
  });

  it('are guests too, whose pictures are none while they are off', () => {
    const guest = sourceId('camera', 'pascoe');
    const offer = { source: guest, video: 'there', audio: 'there' } as const;
    const stream = document.createElement('canvas').captureStream();
    sources.addGuest(offer, stream);
    expect(told).toEqual([{ ...offer, origin: 'guest' }]);
    sources.guestChanged({ ...offer, video: 'off' });
    expect(fates(guest)).toEqual(['off', 'there']);
    sources.guestChanged({ ...offer, video: 'off', audio: 'gone' });
    sources.guestChanged(offer);
    const turned = messages.flatMap((one) => (one.type === 'source_off' ? [one.isOff] : []));
    expect(turned).toEqual([false, true, false]);
    expect(remembered).withContext('they come back by themselves').toEqual({});
  });

  it('are test patterns, as grainy after a reload as before', () => {
    const [plain, grainy] = [sourceId('camera', 'ada'), sourceId('camera', 'bea')];
    sources.addPattern(plain);
    sources.addPattern(grainy, true);
    const wanted: DeskMemory['sources'] = {
      [plain]: { origin: 'pattern' as const },
      [grainy]: { origin: 'pattern' as const, isGrainy: true },
    };
    expect(remembered).toEqual(wanted);
    sources.lose(grainy);
    void sources.restore(wanted);
    expect(remembered).toEqual(wanted);
  });

  it('say that no screen was chosen, though it was asked for a film', async () => {
    const asked = spyOn(navigator.mediaDevices, 'getDisplayMedia').and.rejectWith(
      new DOMException('no', 'NotAllowedError'),
    );
    await sources.addScreen('odalys', true);
    expect(asked.calls.first().args[0]!.video).toEqual(
      jasmine.objectContaining({ frameRate: { ideal: 30, max: 30 } }),
    );
    expect([sources.deviceProblem(), sources.known()]).toEqual(['no_screen', {}]);
  });
});
