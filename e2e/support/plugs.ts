import type { Page } from '@playwright/test';
import { LAUNCH_WITH_CAMERA } from './browser';

/** With two made-up cameras, slow ones: a guest's are encoded on the machine that composes and watches as well. */
export const LAUNCH_WITH_TWO_CAMERAS = {
  ...LAUNCH_WITH_CAMERA,
  args: [
    ...LAUNCH_WITH_CAMERA.args.filter((arg) => !arg.startsWith('--use-fake-device')),
    '--use-fake-device-for-media-stream=device-count=2,fps=8',
  ],
};

type Plugged = typeof globalThis & { given: MediaStreamTrack[]; unplugged: Set<string> };

/** Cameras of this page can be pulled out and put in again: no browser lets a test do it. */
export async function withPlugs(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const plugs = globalThis as Plugged;
    plugs.given = [];
    plugs.unplugged = new Set();
    const { mediaDevices } = navigator;
    for (const name of ['getUserMedia', 'getDisplayMedia'] as const) {
      const real = mediaDevices[name].bind(mediaDevices);
      mediaDevices[name] = async (asked?: MediaStreamConstraints) => {
        const stream = await real(asked);
        // One machine does everybody's work here.
        const small =
          name === 'getUserMedia'
            ? { width: 640, height: 360, frameRate: 8 }
            : { width: 1280, height: 720, frameRate: 5 };
        for (const track of stream.getVideoTracks()) await track.applyConstraints(small);
        plugs.given.push(...stream.getTracks());
        return stream;
      };
    }
    const list = mediaDevices.enumerateDevices.bind(mediaDevices);
    mediaDevices.enumerateDevices = async () =>
      (await list()).filter(({ deviceId }) => !plugs.unplugged.has(deviceId));
  });
}
/** The camera that was opened first. */
export const unplug = (page: Page) =>
  page.evaluate(() => {
    const plugs = globalThis as Plugged;
    const track = plugs.given.find(({ kind }) => kind === 'video')!;
    plugs.unplugged.add(track.getSettings().deviceId!);
    track.stop();
    // By itself a track says so only when it was not the page that stopped it.
    track.dispatchEvent(new Event('ended'));
    navigator.mediaDevices.dispatchEvent(new Event('devicechange'));
  });
export const plugIn = (page: Page) =>
  page.evaluate(() => {
    (globalThis as Plugged).unplugged.clear();
    navigator.mediaDevices.dispatchEvent(new Event('devicechange'));
  });
/** As with the bar that the browser shows while a screen is shared. */
export const stopSharing = (page: Page) =>
  page.evaluate(() => {
    const { given } = globalThis as Plugged;
    const track = given.find((one) => one.kind === 'video' && 'displaySurface' in one.getSettings())!;
    track.stop();
    track.dispatchEvent(new Event('ended'));
  });
