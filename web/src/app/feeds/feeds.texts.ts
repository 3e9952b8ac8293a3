import type { PlaceHealth } from '@juncta/contract/feeds';
import type { FeedReport } from '@juncta/contract/relay';

/** Texts of this part, marked for Angular's own translation. */

/** What a state means, where no reason says more. */
export const feedSentences: Record<FeedReport['state'], string> = {
  off: $localize`:@@feed.offText:Nothing is sent there.`,
  dialling: $localize`:@@feed.diallingText:The connection is being made.`,
  held: $localize`:@@feed.heldText:The picture is there and not public. It has to be published.`,
  sending: $localize`:@@feed.sendingText:The place takes the picture. Nobody has seen it from outside yet.`,
  on_air: $localize`:@@feed.onAirText:Seen from outside.`,
  recovering: $localize`:@@feed.recoveringText:The connection was lost and is being made again.`,
  ended: $localize`:@@feed.endedText:Over.`,
  failed: $localize`:@@feed.failedText:It is not sent, and trying again as things stand will not help.`,
};

/** While the panic key is pressed, for a place that shows the slate instead of the programme. */
export const coveredFeed = {
  word: $localize`:@@feed.covered:Covered`,
  text: $localize`:@@feed.coveredText:Viewers there see the standby slate and hear nothing.`,
};

export const feedReasons: Record<NonNullable<FeedReport['reason']>, string> = {
  lost_connection: $localize`:@@feed.lostConnection:The connection broke. It is being made again.`,
  no_answer: $localize`:@@feed.noAnswer:The place does not answer. It is being tried again.`,
  refused_key: $localize`:@@feed.refusedKey:The place refused the stream key. Get the key from the place and enter it anew.`,
  refused_busy: $localize`:@@feed.refusedBusy:Somebody else is sending with this key. It is being tried again.`,
  refused_format: $localize`:@@feed.refusedFormat:The place refused the picture’s format.`,
  refused_other: $localize`:@@feed.refusedOther:The place refused the stream. It is being tried again.`,
  gave_up: $localize`:@@feed.gaveUp:It was tried again for a long time without success. Look at the place, then start the feed again.`,
  ended_by_us: $localize`:@@feed.endedByUs:Ended here.`,
  ended_by_place: $localize`:@@feed.endedByPlace:The place ended it. Start it again if the show goes on.`,
};

export const feedTexts = {
  start: $localize`:@@relay.start:Start`,
  startArmed: $localize`:@@relay.startArmed:Start now`,
  startName: (name: string) => $localize`:@@relay.startName:Start the feed to ${name}:name:`,
  end: $localize`:@@relay.end:End`,
  endArmed: $localize`:@@relay.endArmed:End now`,
  endName: (name: string) => $localize`:@@relay.endName:End the feed to ${name}:name:`,
  startAll: $localize`:@@relay.startAll:Start everywhere`,
  startAllArmed: $localize`:@@relay.startAllArmed:Start everywhere now`,
  publish: $localize`:@@relay.publish:Publish`,
  publishArmed: $localize`:@@relay.publishArmed:Publish now`,
  publishName: (name: string) => $localize`:@@relay.publishName:Publish at ${name}:name:`,
  watching: $localize`:@@relay.watching:watching`,
  behindByRule: (s: number) => $localize`:@@relay.behindByRule:about ${s}:s: s behind`,
  behind: (s: number) => $localize`:@@relay.behind:${s}:s: s behind`,
  ending: $localize`:@@relay.ending:Ended here. The place has not confirmed yet and is told again until it does.`,
  insisting: $localize`:@@relay.insisting:Juncta does not answer just now. What you pressed is kept and given again by itself.`,
  delay: $localize`:@@relay.delay:Delay`,
  delayOf: (s: number) =>
    s === 0 ? $localize`:@@relay.delayNone:none` : $localize`:@@relay.delayOf:${s}:s: s`,
  incident: $localize`:@@relay.incident:Download the log`,
  goOn: $localize`:@@relay.goOn:Go on with the show`,
  endShowArmed: $localize`:@@relay.endShowArmed:End everywhere now`,
  publicPage: $localize`:@@relay.publicPage:Public page`,
  publicPageOf: (name: string) => $localize`:@@relay.publicPageOf:Public page of ${name}:name:, in a new tab`,
  placeSays: (words: string) => $localize`:@@relay.placeSays:The place says: “${words}:words:”`,
  onAirFor: $localize`:@@relay.onAirFor:on air for`,
  attempt: (n: number) => $localize`:@@relay.attempt:try ${n}:n:`,
  leftOut: (n: number) =>
    $localize`:@@relay.leftOut:${n}:n: pictures were left out, because the place took too little`,
  load: (percent: number) =>
    $localize`:@@relay.load:The relay’s machine is busy: ${percent}:percent: % of a core. Fewer feeds, or nothing else on it, would help.`,
  diskLeft: (time: string) => $localize`:@@relay.diskLeft:Room to record ${time}:time: more`,
  diskShort: (time: string) =>
    $localize`:@@relay.diskShort:The relay’s disk has room for only ${time}:time: of recording. Free some before the show.`,
  diskFull: $localize`:@@relay.diskFull:The relay’s disk is full: nothing is recorded. The feeds go on, and this browser keeps what is missing. Free some room.`,
  away: $localize`:@@relay.away:The relay does not answer. It is brought back by itself; feeds cannot be changed until then.`,
  needsVideo: $localize`:@@relay.needsVideo:A feed can be started once a programme is composed.`,
  noRight: $localize`:@@relay.noRight:A host or a producer starts and ends feeds.`,
};

export const feedSheetTexts = {
  figures: $localize`:@@sheet.figures:Figures over time`,
  names: {
    kbps: $localize`:@@sheet.kbps:kbit/s`,
    viewers: $localize`:@@sheet.viewers:Watching`,
    leftOutFrames: $localize`:@@sheet.leftOut:Pictures left out`,
  },
  told: (name: string, least: number, most: number, now: number) =>
    $localize`:@@sheet.told:${name}:name:: from ${least}:least: to ${most}:most:, last ${now}:now:`,
  noFigures: (name: string) => $localize`:@@sheet.noFigures:${name}:name:: nothing measured yet`,
  sent: (name: string) => $localize`:@@sheet.sent:The last picture that was sent to ${name}:name:`,
  copyEmbed: $localize`:@@sheet.copyEmbed:Copy embed code`,
  embedCopied: $localize`:@@sheet.embedCopied:Copied`,
  placeGets: ({ width, height, framesPerS, kbps, keyframeS }: PlaceHealth) => {
    const figures = [
      width === null ? null : `${width}x${height}`,
      $localize`:@@sheet.healthRate:${framesPerS}:rate: frames/s`,
      $localize`:@@sheet.healthBits:${(kbps / 1000).toFixed(1)}:rate: Mbit/s`,
      keyframeS === null
        ? null
        : $localize`:@@sheet.healthKeyframe:a keyframe every ${keyframeS.toFixed(1)}:s: s`,
    ].filter((one) => one !== null);
    return $localize`:@@sheet.health:The place says that it gets ${figures.join(', ')}:figures:.`;
  },
  warns: (words: string) => $localize`:@@sheet.healthWarns:It warns: ${words}:words:.`,
  log: $localize`:@@sheet.log:What happened`,
  noLog: $localize`:@@sheet.noLog:Nothing has been sent there yet.`,
  close: $localize`:@@sheet.close:Close`,
  open: (name: string) => $localize`:@@sheet.open:${name}:name:, look closely`,
  patience: {
    gap: (s: number) =>
      $localize`:@@sheet.patienceGap:A feed that is lost leaves viewers the last picture for ${s}:s: s, and nothing after that. It may come back.`,
    event_ends: (s: number) =>
      s > 0
        ? $localize`:@@sheet.patienceEnds:A feed that is lost for ${s}:s: s ends the event there.`
        : $localize`:@@sheet.patienceNone:A feed that is lost ends the event there at once; what comes after it is a new one.`,
    unknown: () =>
      $localize`:@@sheet.patienceUnknown:Nobody knows how long this place waits for a feed that is lost.`,
  },
  end: {
    ends: $localize`:@@end.ends:Ending the feed ends the event there.`,
    told: $localize`:@@end.told:Ending the feed ends the event there too: the place is told so by its API.`,
    waits: $localize`:@@end.waits:Ending the feed leaves the event open there. End it on its own page.`,
    unknown: $localize`:@@end.unknown:Nobody knows what the end of the feed does there. Look at its own page.`,
  },
  deadlines: {
    lapse: (left: string) => $localize`:@@deadline.lapse:The place cancels the event in ${left}:left:.`,
    gap: (left: string) => $localize`:@@deadline.gap:Viewers there see nothing more in ${left}:left:.`,
    event_ends: (left: string) => $localize`:@@deadline.ends:The place ends the event in ${left}:left:.`,
    longest: (left: string) =>
      $localize`:@@deadline.longest:The place takes no longer show: it ends this one in ${left}:left:.`,
  },
  overdue: {
    lapse: $localize`:@@overdue.lapse:By its rules the place has cancelled the event by now.`,
    gap: $localize`:@@overdue.gap:Viewers there see nothing by now.`,
    event_ends: $localize`:@@overdue.ends:By its rules the place has ended the event by now. Start the feed anew.`,
    longest: $localize`:@@overdue.longest:The place may end it at any moment: it takes no longer show.`,
  },
  endTitle: $localize`:@@end.title:End the show`,
  endDelay: (s: number) =>
    $localize`:@@end.delay:What was composed in the last ${s}:s: s is recorded, and viewers do not see it any more.`,
  endIntro: $localize`:@@end.intro:The programme ends everywhere, and the recording with it. Viewers can still write.`,
  publishAll: $localize`:@@relay.publishAll:Publish everywhere`,
  publishAllArmed: $localize`:@@relay.publishAllArmed:Publish everywhere now`,
};

/** What became of a show, place by place. */
export const figureTexts = {
  figures: $localize`:@@relay.figures:Figures`,
  figuresPlace: $localize`:@@relay.figuresPlace:Place`,
  figuresOnAir: $localize`:@@relay.figuresOnAir:On air`,
  figuresMost: $localize`:@@relay.figuresMost:Most watching`,
  figuresMessages: $localize`:@@relay.figuresMessages:Messages`,
};
