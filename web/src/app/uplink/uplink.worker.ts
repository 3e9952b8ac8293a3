import type { UplinkMessage, UplinkReport } from './messages';
import { Uplink } from './uplink';

/** The uplink's worker: apart from the composer, so that a slow disk does not hold up a frame. */
let uplink: Uplink | null = null;

const report = (what: UplinkReport) => self.postMessage(what);

self.onmessage = ({ data }: MessageEvent<UplinkMessage>) => {
  switch (data.type) {
    case 'start':
      uplink ??= new Uplink(data, report);
      break;
    case 'ticket':
      uplink?.renew(data.ticket, data.uplinkUrl);
      break;
    case 'cover':
      uplink?.cover(data.on);
      break;
    case 'ceiling':
      uplink?.limit(data.videoKbps);
      break;
    case 'stop':
      uplink?.stop();
      uplink = null;
      break;
  }
};
