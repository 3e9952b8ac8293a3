/** Texts of this part, marked for Angular's own translation. */

export const uploadTexts = {
  check: $localize`:@@upload.check:Check the upload`,
  checking: $localize`:@@upload.checking:Four seconds of noise are on their way to the relay.`,
  failed: $localize`:@@upload.failed:The relay could not be reached for it. Try once more; another desk that composes has to let go first.`,
  unchecked: $localize`:@@upload.unchecked:The upload of this desk was not checked yet.`,
  carries: (rate: string) => $localize`:@@upload.carries:This line carries ${rate}:rate:.`,
  carried: (rate: string) =>
    $localize`:@@upload.carried:This line carried ${rate}:rate: when it was checked.`,
  mbps: (n: string) => $localize`:@@upload.mbps:${n}:n: Mbit/s`,
  over: (n: number) => $localize`:@@upload.over:more than ${n}:n: Mbit/s`,
  sent: (kbps: number) => $localize`:@@upload.sent:The picture is sent at ${kbps}:kbps: kbit/s.`,
  sentNow: (kbps: number, most: number) =>
    $localize`:@@upload.sentNow:The line carries less just now: the picture is sent at ${kbps}:kbps: kbit/s, of ${most}:most: at the most.`,
  byLine: $localize`:@@upload.byLine:More would leave no headroom.`,
  byPlace: (name: string) => $localize`:@@upload.byPlace:${name}:name: takes no more.`,
  short: (size: string) =>
    $localize`:@@upload.short:That is too little for a picture of ${size}:size:: use a cable, or another line.`,
};
