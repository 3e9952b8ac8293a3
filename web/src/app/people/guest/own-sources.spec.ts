import { PROGRAMME, sourceId } from '@juncta/core/stage';
import { Devices } from '../../testing/devices';
import { OwnSources } from './own-sources';

const FIRST = sourceId('camera', 'pascoe');
const SECOND = sourceId('camera', 'pascoe', 2);

describe('what a guest has for the show', () => {
  let devices: Devices;
  let own: OwnSources;

  beforeEach(() => {
    devices = new Devices();
    own = new OwnSources('pascoe', PROGRAMME);
  });
  afterEach(() => {
    own.close();
    devices.close();
  });
  const settled = () => new Promise((turn) => setTimeout(turn, 20));
  const fates = (source = FIRST) => {
    const { video, audio } = own.offers().find((one) => one.source === source)!;
    return [video, audio];
  };
  const pullOut = (device: string) => {
    devices.there.delete(device);
    devices.track(device).stop();
    devices.track(device).dispatchEvent(new Event('ended'));
  };

  it('is a camera and a microphone, off and on, whatever device it is', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await own.openCamera();
    expect(fates()).toEqual(['there', 'there']);
    own.turn(FIRST, 'audio', false);
    expect(fates()).toEqual(['there', 'off']);
    own.turn(FIRST, 'video', false);
    await own.choose(FIRST, 'video', 'camera-b');
    expect(fates()).toEqual(['off', 'off']);
    expect(devices.track('camera-b').enabled).withContext('nobody is seen by choosing a camera').toBeFalse();
    expect(devices.track('camera-a').readyState).toBe('ended');
  });

  it('says that there is no camera, and which device is not to be had', async () => {
    devices.plugIn('mic-a');
    await own.openCamera();
    expect(fates()).toEqual(['none', 'there']);
    await own.choose(FIRST, 'video', 'camera-z');
    expect([own.problem(), fates()]).toEqual(['busy', ['none', 'there']]);
  });

  it('goes on with another microphone when one is gone, and takes it back when it returns', async () => {
    devices.plugIn('camera-a', 'mic-a', 'mic-b');
    await own.openCamera();
    pullOut('mic-a');
    expect(fates()).toEqual(['there', 'gone']);
    await settled();
    expect(fates()).toEqual(['there', 'replaced']);
    devices.plugIn('mic-a');
    navigator.mediaDevices.dispatchEvent(new Event('devicechange'));
    await settled();
    expect(fates()).toEqual(['there', 'there']);
    expect(devices.track('mic-b').readyState).toBe('ended');
  });

  it('is a second camera without a second microphone, from those that nothing uses', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    await own.openCamera();
    expect(own.freeCameras().map(({ id }) => id)).toEqual(['camera-b']);
    await own.addCamera('camera-b');
    expect(own.all().map(({ source }) => source)).toEqual([FIRST, SECOND]);
    expect(fates(SECOND)).toEqual(['there', 'none']);
    expect(own.freeCameras()).toEqual([]);
    expect(own.remembered()).toEqual([
      { source: FIRST, choice: {}, isOn: { video: true, audio: true } },
      { source: SECOND, choice: { video: 'camera-b', audio: null }, isOn: { video: true, audio: true } },
    ]);
  });

  it('comes back after a reload: as it was, or with what is left', async () => {
    devices.plugIn('camera-a', 'camera-b', 'mic-a');
    const remembered = [
      { source: FIRST, choice: { video: 'camera-b' }, isOn: { video: true, audio: false } },
      { source: SECOND, choice: { video: 'camera-a', audio: null }, isOn: { video: false, audio: true } },
    ];
    await own.restore(remembered, 'Pascoe');
    expect(own.all().map(({ source }) => source)).toEqual([FIRST, SECOND]);
    expect([fates(), fates(SECOND)])
      .withContext('what was off stays off')
      .toEqual([
        ['there', 'off'],
        ['off', 'none'],
      ]);
    expect(devices.track('mic-a').enabled).toBeFalse();
    own.endAll();
    devices.there.delete('camera-a');
    devices.there.delete('camera-b');
    devices.plugIn('camera-c');
    await own.restore([remembered[0]!], 'Pascoe');
    expect(own.all().map(({ source }) => source)).toEqual([FIRST]);
    expect(fates()).toEqual(['there', 'off']);
  });

  it('has no more than three screens', async () => {
    spyOn(navigator.mediaDevices, 'getDisplayMedia').and.callFake(() =>
      Promise.resolve(document.createElement('canvas').captureStream()),
    );
    for (let i = 0; i < 4; i++) await own.shareScreen();
    expect(own.all().length).toBe(3);
  });

  it('says that no screen was chosen, and goes on', async () => {
    devices.plugIn('camera-a', 'mic-a');
    await own.openCamera();
    spyOn(navigator.mediaDevices, 'getDisplayMedia').and.rejectWith(
      new DOMException('no', 'NotAllowedError'),
    );
    await own.shareScreen();
    expect([own.problem(), own.all().length]).toEqual(['no_screen', 1]);
  });
});
