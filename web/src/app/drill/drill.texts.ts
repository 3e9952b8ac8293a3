import type { FaultKind, Seen } from '@juncta/core/drill';

/** Texts of this part, marked for Angular's own translation. */
export const drillTexts = {
  title: $localize`:@@drill.title:Drill`,
  begin: $localize`:@@drill.begin:Begin a drill`,
  intro: $localize`:@@drill.intro:A rehearsal with things going wrong: the relay plays every place itself, and nothing leaves the house.`,
  goesOn: $localize`:@@drill.goesOn:Nothing leaves the house. The places are played by their rules.`,
  over: $localize`:@@drill.over:The drill is over. This is what viewers would have seen.`,
  toReport: $localize`:@@drill.toReport:Report of the drill`,
  where: $localize`:@@drill.where:What goes wrong`,
  cause: $localize`:@@drill.cause:Cause it`,
  causeArmed: $localize`:@@drill.causeArmed:Cause it now`,
  script: $localize`:@@drill.script:A bad night`,
  scripted: (left: number) => $localize`:@@drill.scripted:A bad night goes on, ${left}:left: s more.`,
  end: $localize`:@@drill.end:End the drill`,
  publish: $localize`:@@drill.publish:Publish`,
  publishOf: (name: string) => $localize`:@@drill.publishOf:Publish at ${name}:name: in the drill`,
  house: $localize`:@@drill.house:The house`,
  desk: $localize`:@@drill.desk:The way from the desk`,
  save: $localize`:@@drill.save:Save the report`,
  close: $localize`:@@drill.close:Close`,
  log: $localize`:@@drill.log:What was thrown in`,
  noFaults: $localize`:@@drill.noFaults:Nothing was thrown in.`,
  key: $localize`:@@drill.key:What the strips mean`,
  shown: $localize`:@@drill.shown:Public, in the drill`,
  see: (what: string) => $localize`:@@drill.see:Viewers would see ${what}:what:.`,
  lasted: (time: string) => $localize`:@@drill.lasted:It lasted ${time}:time:.`,
  at: (time: string) => $localize`:@@drill.at:at ${time}:time:`,
};

export const seenWords: Record<Seen, string> = {
  not_yet: $localize`:@@seen.notYet:nothing yet`,
  picture: $localize`:@@seen.picture:the picture`,
  slate: $localize`:@@seen.slate:the slate`,
  frozen: $localize`:@@seen.frozen:a picture that stands still`,
  nothing: $localize`:@@seen.nothing:nothing`,
  over: $localize`:@@seen.over:that it is over`,
};

export const seenFor = (seen: Seen, seconds: number): string =>
  $localize`:@@seen.for:${seenWords[seen]}:what: ${seconds}:seconds: s`;

export const faultWords: Record<FaultKind, string> = {
  refuse: $localize`:@@fault.refuse:refuses feeds for 8 s`,
  stall: $localize`:@@fault.stall:stops reading for 8 s`,
  drop: $localize`:@@fault.drop:drops the feed`,
  lapse: $localize`:@@fault.lapse:cancels the event`,
  uplink_cut: $localize`:@@fault.uplinkCut:the uplink is cut for 8 s`,
  uplink_slow: $localize`:@@fault.uplinkSlow:the uplink is slow for 20 s`,
  desk_lost: $localize`:@@fault.deskLost:this desk is lost and comes back`,
  server_dies: $localize`:@@fault.serverDies:the web server dies`,
  relay_dies: $localize`:@@fault.relayDies:the relay dies`,
  room_dies: $localize`:@@fault.roomDies:the guests’ media server dies`,
  database_dies: $localize`:@@fault.databaseDies:the database dies`,
};
