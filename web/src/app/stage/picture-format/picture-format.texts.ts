import type { PictureFormat } from '@juncta/core/programme';
import type { Trial } from '@juncta/core/stage';

/** Texts of this part, marked for Angular's own translation. */
export const pictureFormatTexts = {
  title: $localize`:@@format.title:Picture`,
  of: {
    '720p30': $localize`:@@format.720p30:1280x720, 30 frames/s`,
    '720p60': $localize`:@@format.720p60:1280x720, 60 frames/s`,
    '1080p30': $localize`:@@format.1080p30:1920x1080, 30 frames/s`,
    '1080p60': $localize`:@@format.1080p60:1920x1080, 60 frames/s`,
  } satisfies Record<PictureFormat, string>,
  check: $localize`:@@format.check:Check this computer`,
  checking: $localize`:@@format.checking:It composes test pictures for some seconds, which nobody sees.`,
  failed: $localize`:@@format.failed:It could not be checked: this browser does not encode such a picture.`,
  holds: ({ sources, framesPerS }: Trial) =>
    $localize`:@@format.holds:It holds this picture: ${framesPerS.toFixed(0)}:n: frames/s with ${sources}:sources: people.`,
  holdsFew: ({ sources, framesPerS }: Trial) =>
    $localize`:@@format.holdsFew:It holds this picture with ${sources}:sources: people (${framesPerS.toFixed(0)}:n: frames/s), not with many: then it draws them less sharp.`,
  short: ({ sources, framesPerS }: Trial) =>
    $localize`:@@format.short:It does not keep pace: ${framesPerS.toFixed(0)}:n: frames/s with ${sources}:sources: people. Choose a smaller picture or fewer frames.`,
  shortAtLeast: ({ sources, framesPerS }: Trial) =>
    $localize`:@@format.shortAtLeast:It does not keep pace: ${framesPerS.toFixed(0)}:n: frames/s with ${sources}:sources: people. Close other programs, or compose at another computer.`,
  name: (index: number) => $localize`:@@format.name:Test picture ${index}:n:`,
};
