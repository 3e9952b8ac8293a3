/** How the tests start Chromium. */
export const LAUNCH = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    // A machine may have no network but its own.
    '--allow-loopback-in-peer-connection',
  ],
};

/** With a made-up camera and microphone, which nobody has to allow. */
export const LAUNCH_WITH_CAMERA = {
  ...LAUNCH,
  args: [...LAUNCH.args, '--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream'],
};
