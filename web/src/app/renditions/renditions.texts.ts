import type { RenditionReport } from '@juncta/contract/relay';
import type { EncoderLimit, Rendition } from '@juncta/core/renditions';
import { sizeOf } from '@juncta/core/renditions';
import { beyondLimit, type PictureFormat, type PictureShape } from '@juncta/core/programme';

const cores = (value: number) => value.toFixed(1);
const mbits = (kbps: number) => (kbps / 1000).toFixed(1);

/** How a picture lies, and what of the programme is in it. */
export const shapeTexts: Record<PictureShape, string> = {
  landscape: $localize`:@@shape.landscape:wide, 16 by 9`,
  upright_whole: $localize`:@@shape.whole:upright, the whole of it across`,
  upright_halves: $localize`:@@shape.halves:upright, one half above the other`,
  upright_middle: $localize`:@@shape.middle:upright, only its middle`,
};

/** Texts of this part, marked for Angular's own translation. */
export const renditionTexts = {
  title: $localize`:@@rendition.title:What the places get`,
  all: $localize`:@@rendition.all:Every place takes this picture as it is.`,
  picture: ({ rateHz, videoKbps, ...what }: Pick<Rendition, 'shape' | 'height' | 'rateHz' | 'videoKbps'>) => {
    const { width, height } = sizeOf(what);
    const figures = $localize`:@@rendition.picture:${width}:width:x${height}:height:, ${rateHz}:rate: frames/s, ${mbits(videoKbps)}:rate: Mbit/s`;
    return what.shape === 'landscape' ? figures : `${figures} (${shapeTexts[what.shape]})`;
  },
  apart: (names: string, picture: string, taken: number) =>
    $localize`:@@rendition.apart:${names}:places:: ${picture}:picture:. Encoded at the relay, ${cores(taken)}:cores: cores.`,
  left: (left: number) =>
    $localize`:@@rendition.left:That leaves the relay ${cores(Math.max(0, left))}:cores: cores for more.`,
  estimated: $localize`:@@rendition.estimated:Nobody has measured that machine: these are the figures of a slow one.`,
  lowered: (kbps: number, names: string) =>
    $localize`:@@rendition.lowered:The programme goes out at ${mbits(kbps)}:rate: Mbit/s, which is what ${names}:places: takes. The relay has no room to encode for it apart.`,
  none: (name: string, takes: string) =>
    $localize`:@@rendition.none:${name}:place: gets nothing: it takes ${takes}:limit:, and the relay has no room to encode for it.`,
  takes: (format: PictureFormat, { maxHeight, maxFramesPerS, maxKbps, shape }: EncoderLimit) => {
    const beyond = beyondLimit(format, { maxHeight, maxFramesPerS, shape });
    if (beyond === 'shape') return $localize`:@@rendition.takesUpright:an upright picture`;
    if (beyond === 'size') return $localize`:@@rendition.takesLines:${maxHeight}:lines: lines at most`;
    return beyond === 'rate'
      ? $localize`:@@rendition.takesRate:${maxFramesPerS}:rate: frames a second at most`
      : $localize`:@@rendition.takesBits:${mbits(maxKbps)}:rate: Mbit/s at most`;
  },
  gets: {
    programme: $localize`:@@rendition.getsProgramme:It gets the programme as it is.`,
    rendition: (picture: string) =>
      $localize`:@@rendition.gets:It gets a picture of its own, encoded at the relay: ${picture}:picture:.`,
  },
  states: {
    starting: $localize`:@@rendition.starting:Its encoder waits for a keyframe.`,
    running: '',
    behind: $localize`:@@rendition.behind:The relay’s machine does not keep pace with it: viewers there see a picture that stalls. End another feed that is encoded apart.`,
    again: $localize`:@@rendition.again:Its encoder ended and is begun again. Viewers there miss a moment, and stay connected.`,
  } satisfies Record<RenditionReport['state'], string>,
};
