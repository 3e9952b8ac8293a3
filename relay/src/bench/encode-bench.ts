import { machineFor, type Rendition } from '@juncta/core/renditions';
import { measureEncodeCost } from '../renditions/measure-cost';
import { round, runBench } from './bench-processes';

const programme = (height: number, rateHz: number): Rendition => ({
  shape: 'landscape',
  height,
  rateHz,
  videoKbps: 6000,
  keyframeS: 2,
});

/** What encoding takes on this machine, and cores that renditions of usual programmes would take. */
runBench(async () => {
  const cost = await measureEncodeCost();
  const cores = (from: Rendition, to: Rendition) =>
    round(machineFor(from, { cores: 1, cost, isMeasured: true }).coresFor(to), 2);
  const [large, fast, usual] = [programme(1080, 30), programme(1080, 60), programme(720, 30)];
  return {
    ...cost,
    cores: {
      '1080p30 to 1080p30': cores(large, large),
      '1080p30 to 720p30': cores(large, usual),
      '1080p60 to 1080p30': cores(fast, large),
      '1080p60 to 720p30': cores(fast, usual),
      '720p30 to 720p30': cores(usual, usual),
      '720p30 to 480p30': cores(usual, programme(480, 30)),
    },
  };
});
