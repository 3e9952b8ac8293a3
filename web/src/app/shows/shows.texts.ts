import { formatTexts } from '../formats/formats.texts';
import type { Finding, FindingLevel, Phase } from '@juncta/core/shows';
import type { StartProblem } from '@juncta/core/schedule';
import type { NOT_CARRIED, Part, ShowText } from '@juncta/contract/shows';

/** Texts of this part, marked for Angular's own translation. */
export const phaseNames: Record<Phase | 'overdue', string> = {
  plan: $localize`:@@phase.plan:Planned`,
  prepare: $localize`:@@phase.prepare:Due this week`,
  ready: $localize`:@@phase.ready:Ready to air`,
  overdue: $localize`:@@phase.overdue:Overdue`,
  live: $localize`:@@phase.live:On air`,
  wrap: $localize`:@@phase.wrap:Over`,
};

/** The stretches of a show's life as a row of signs. */
export const phaseSteps: Record<Phase, { name: string; task: string }> = {
  plan: { name: $localize`:@@step.plan:Plan`, task: $localize`:@@step.plan.task:What, when and with whom` },
  prepare: {
    name: $localize`:@@step.prepare:Prepare`,
    task: $localize`:@@step.prepare.task:Invite people, write the rundown`,
  },
  ready: {
    name: $localize`:@@step.ready:Ready`,
    task: $localize`:@@step.ready.task:Open the desk, test the line`,
  },
  live: { name: $localize`:@@step.live:On air`, task: $localize`:@@step.live.task:The programme is out` },
  wrap: {
    name: $localize`:@@step.wrap:Wrap`,
    task: $localize`:@@step.wrap.task:Recordings, figures, the next one`,
  },
};

export const partNames: Record<Part, string> = {
  host: $localize`:@@part.host:Host`,
  producer: $localize`:@@part.producer:Producer`,
  moderator: $localize`:@@part.moderator:Moderator`,
  guest: $localize`:@@part.guest:Guest`,
};

export const levelNames: Record<FindingLevel, string> = {
  block: $localize`:@@level.block:Blocks`,
  warning: $localize`:@@level.warning:Warning`,
  advice: $localize`:@@level.advice:Advice`,
};

export function findingSentence(finding: Finding, otherTitle: string): string {
  switch (finding.code) {
    case 'overdue':
      return $localize`:@@finding.overdue:The start has gone by and nobody has started the show. Start it from the desk, or give it another time.`;
    case 'no_start':
      return $localize`:@@finding.noStart:There is no start yet. Nothing can be booked or announced without one.`;
    case 'no_host':
      return $localize`:@@finding.noHost:Nobody is down as host. Somebody has to talk.`;
    case 'no_description':
      return $localize`:@@finding.noDescription:There is no description. Every destination will show an empty one.`;
    case 'in_two_shows':
      return $localize`:@@finding.inTwoShows:${finding.name}:name: is also in “${otherTitle}:title:” at that time.`;
  }
}

export function startProblemSentence(problem: StartProblem, zone: string): string {
  switch (problem.code) {
    case 'skipped': {
      const [before, after] = [problem.before.slice(11), problem.after.slice(11)];
      return $localize`:@@start.skipped:Clocks in ${zone}:zone: skip this time that day. The nearest are ${before}:before: and ${after}:after:.`;
    }
    case 'unknown_zone':
      return $localize`:@@start.unknownZone:There is no such time zone. Choose one from the list.`;
    case 'no_such_day':
      return $localize`:@@start.noSuchDay:There is no such day in the calendar.`;
    case 'no_such_time':
      return $localize`:@@start.noSuchTime:There is no such time of day.`;
    case 'year_out_of_range':
      return $localize`:@@start.year:The year must be from 2000 to 2199.`;
    case 'bad_form':
      return $localize`:@@start.form:The start needs a day and a time.`;
  }
}

export const fieldNames: Record<keyof ShowText, string> = {
  title: $localize`:@@show.title:Title`,
  description: $localize`:@@show.description:Description`,
  seriesId: $localize`:@@show.series:Series`,
  start: $localize`:@@show.start:Start`,
  plannedMinutes: $localize`:@@show.minutes:Planned length`,
  people: $localize`:@@show.people:People`,
};

export const boardTexts = {
  title: $localize`:@@board.title:Shows`,
  newShow: $localize`:@@board.newShow:New show`,
  caption: $localize`:@@board.caption:Shows in order of their start. Times are those of ${Intl.DateTimeFormat().resolvedOptions().timeZone}:zone:.`,
  line: $localize`:@@board.line:The shows of the next weeks in time`,
  now: $localize`:@@board.now:now`,
  day: $localize`:@@board.day:Day`,
  time: $localize`:@@board.time:Start`,
  state: $localize`:@@board.state:State`,
  show: $localize`:@@board.show:Show`,
  length: $localize`:@@board.length:Length`,
  findings: $localize`:@@board.findings:To do`,
  noDay: $localize`:@@board.noDay:No day yet`,
  inZone: (time: string, city: string) => $localize`:@@board.inZone:${time}:time: in ${city}:city:`,
  which: $localize`:@@board.which:Which shows`,
  coming: $localize`:@@board.coming:Coming`,
  over: $localize`:@@board.over:Over`,
  away: $localize`:@@board.away:Put away`,
  find: $localize`:@@board.find:Find by title, series or person`,
  reading: $localize`:@@board.reading:Reading the shows`,
  emptyTitle: $localize`:@@board.emptyTitle:No show here yet`,
  emptyText: $localize`:@@board.emptyText:A show is one live programme: what it is called, when it starts, and who is in it.`,
  emptyOver: $localize`:@@board.emptyOver:Shows stand here once they are over, with what was recorded and said.`,
  emptyAway: $localize`:@@board.emptyAway:What is put away stands here and can be brought back. Nothing is deleted.`,
  emptyFound: $localize`:@@board.emptyFound:No show here fits these words.`,
  chosen: $localize`:@@board.chosen:Chosen show`,
  open: $localize`:@@board.open:Open the plan`,
  desk: $localize`:@@board.desk:To the desk`,
  again: $localize`:@@board.again:Try again`,
  edited: (who: string, when: string) => $localize`:@@board.edited:Last saved by ${who}:who:, ${when}:when:`,
  somebody: $localize`:@@board.somebody:somebody who has left`,
  people: $localize`:@@board.people:People`,
  nothingToDo: $localize`:@@board.nothingToDo:Nothing is missing so far.`,
  ranFor: (length: string) => $localize`:@@board.ranFor:ran for ${length}:length:`,
};

export const seasonTexts = {
  title: $localize`:@@season.title:Season`,
  intro: $localize`:@@season.intro:Six weeks at a glance, Monday to Sunday, in your own time zone.`,
  earlier: $localize`:@@season.earlier:Earlier`,
  later: $localize`:@@season.later:Later`,
  thisWeek: $localize`:@@season.thisWeek:This week`,
  week: $localize`:@@season.week:Week`,
  undated: $localize`:@@season.undated:Without a day`,
  noneUndated: $localize`:@@season.noneUndated:Every show has a day.`,
  today: $localize`:@@season.today:today`,
  newOn: (day: string) => $localize`:@@season.newOn:New show on ${day}:day:`,
  caption: $localize`:@@season.caption:Shows by week and day`,
  free: $localize`:@@season.free:not planned yet`,
  planOn: (series: string, day: string) => $localize`:@@season.planOn:Plan ${series}:series: on ${day}:day:`,
  series: $localize`:@@season.series:Series`,
  noSeries: $localize`:@@season.noSeries:There is no series yet. Make the first in a show’s plan.`,
};

export const showTexts = {
  newTitle: $localize`:@@show.newTitle:New show`,
  back: $localize`:@@show.back:All shows`,
  steps: $localize`:@@show.steps:Where this show is in its life`,
  here: $localize`:@@show.here:now`,
  gone: $localize`:@@show.gone:There is no such show. It may have been removed, or the address is wrong.`,
  titleHint: $localize`:@@show.titleHint:What every destination starts from. Each can have its own later.`,
  noSeries: $localize`:@@show.noSeries:No series`,
  newSeries: $localize`:@@show.newSeries:New series`,
  newSeriesName: $localize`:@@show.newSeriesName:Name of the new series`,
  saveAsFile: formatTexts.saveShow,
  picture: $localize`:@@show.picture:Picture`,
  makeSeries: $localize`:@@show.makeSeries:Make it`,
  day: $localize`:@@show.day:Day`,
  time: $localize`:@@show.time:Time`,
  zone: $localize`:@@show.zone:Time zone`,
  zoneHint: $localize`:@@show.zoneHint:Type a city or a region`,
  clear: $localize`:@@show.clear:No start yet`,
  minutes: $localize`:@@show.minutesUnit:Minutes planned`,
  twice: $localize`:@@show.twice:Clocks go back that night, so this time comes twice. Which do you mean?`,
  first: (offset: string) => $localize`:@@show.first:The first (${offset}:offset:)`,
  second: (offset: string) => $localize`:@@show.second:The second (${offset}:offset:)`,
  resolved: (day: string, time: string) =>
    $localize`:@@show.resolved:For you that is ${day}:day:, ${time}:time:.`,
  resolvedHere: (day: string) => $localize`:@@show.resolvedHere:That is ${day}:day:, in your own time zone.`,
  chars: (used: number, most: number) => $localize`:@@show.chars:${used}:used: of ${most}:most:`,
  titleEmpty: $localize`:@@show.titleEmpty:The title is empty.`,
  minutesWrong: $localize`:@@show.minutesWrong:The length must be from 5 to 1,500 whole minutes.`,
  nameEmpty: $localize`:@@show.nameEmpty:The name is empty.`,
  save: $localize`:@@show.save:Save`,
  saving: $localize`:@@show.saving:Saving`,
  saved: $localize`:@@show.saved:Saved`,
  unsaved: $localize`:@@show.unsaved:Not saved yet. Kept in this browser meanwhile.`,
  undo: $localize`:@@show.undo:Undo changes`,
  archive: $localize`:@@show.archive:Put away`,
  bringBack: $localize`:@@show.bringBack:Bring back`,
  isAway: $localize`:@@show.isAway:This show is put away.`,
  desk: $localize`:@@show.desk:To the desk`,
  readOnly: $localize`:@@show.readOnly:As moderator you can read this plan. Producers and hosts can change it.`,
  draftKept: (when: string) =>
    $localize`:@@show.draftKept:What you wrote ${when}:when: and did not save is still here.`,
  draftDrop: $localize`:@@show.draftDrop:Drop it`,
  othersSaved: (who: string, fields: string) =>
    $localize`:@@show.othersSaved:${who}:who: saved this show meanwhile and changed: ${fields}:fields:. Yours is untouched; saving joins the two.`,
  joined: (who: string, fields: string) =>
    $localize`:@@show.joined:Saved, together with what ${who}:who: had changed meanwhile: ${fields}:fields:.`,
  findings: $localize`:@@show.findings:What is not ready`,
  noFindings: $localize`:@@show.noFindings:Nothing is missing, here or by the rules of its destinations.`,
  next: $localize`:@@show.next:Make the next`,
  nextMade: $localize`:@@show.nextMade:Made from the one before, with its people, destinations and listings. Nothing is booked.`,
  mend: $localize`:@@show.mend:Fix in listings`,
  listings: $localize`:@@show.listings:Listings`,
  launch: $localize`:@@show.launch:Launch sheet`,
  ingest: $localize`:@@show.ingest:Inputs`,
  wrongFields: $localize`:@@show.wrongFields:Not saved: some entries need another look. They are marked below.`,
};

export const conflictTexts = {
  title: $localize`:@@conflict.title:Two of you changed the same`,
  intro: (who: string) =>
    $localize`:@@conflict.intro:${who}:who: saved this show while you were writing. Nothing was overwritten. Choose for each entry; the rest is joined by itself.`,
  mine: $localize`:@@conflict.mine:Yours`,
  theirs: (who: string) => $localize`:@@conflict.theirs:${who}:who:’s`,
  save: $localize`:@@conflict.save:Save it so`,
  cancel: $localize`:@@conflict.cancel:Back to my writing`,
  empty: $localize`:@@conflict.empty:(empty)`,
};

/** What the next show does not have from the one before. */
export const notCarriedTexts: Record<(typeof NOT_CARRIED)[number], string> = {
  links: $localize`:@@notCarried.links:Guests need new personal links.`,
  fixed_slots: $localize`:@@notCarried.fixedSlots:Slots at a time of their own go with the show now.`,
  start_skipped: $localize`:@@notCarried.skipped:The clock skips its time that day: set a start.`,
  no_start: $localize`:@@notCarried.noStart:There was no start to go by: set one.`,
  people: $localize`:@@notCarried.people:Somebody has left the team, and is not in it.`,
};

export const commonRuleNames = {
  weekly: $localize`:@@series.weekly:every week`,
  fortnightly: $localize`:@@series.fortnightly:every second week`,
  monthly: $localize`:@@series.monthly:every month, on the same weekday`,
  monthly_last: $localize`:@@series.monthlyLast:every month, on the last such weekday`,
  own: $localize`:@@series.own:by a rule of its own`,
};

export const seriesTexts = {
  none: $localize`:@@series.none:Its shows are planned one by one.`,
  told: (rule: string, time: string, city: string, day: string) =>
    $localize`:@@series.told:On ${rule}:rule: at ${time}:time: (${city}:city:), from ${day}:day: on.`,
  howOften: $localize`:@@series.howOften:It is on`,
  rule: $localize`:@@series.rule:Rule (RFC 5545)`,
  first: $localize`:@@series.first:First date and time`,
  zone: $localize`:@@series.zone:Time zone`,
  save: $localize`:@@series.save:Keep`,
  notNow: $localize`:@@series.notNow:Not now`,
  oneByOne: $localize`:@@series.oneByOne:Plan one by one`,
  change: $localize`:@@series.change:Change`,
  changeOf: (name: string) => $localize`:@@series.changeOf:Change when ${name}:name: is on`,
  copy: $localize`:@@series.copy:Copy the evergreen link`,
  copied: $localize`:@@series.copied:Copied`,
};

export const evergreenTexts = {
  onNow: $localize`:@@evergreen.onNow:On now`,
  yourTime: (city: string) => $localize`:@@evergreen.yourTime:your time (${city}:city:)`,
  watch: $localize`:@@evergreen.watch:Watch it at`,
  willBe: $localize`:@@evergreen.willBe:It will be at`,
  noPlaces: $localize`:@@evergreen.noPlaces:Where it can be watched is not known yet.`,
  none: $localize`:@@evergreen.none:No show is planned just now`,
  comeBack: $localize`:@@evergreen.comeBack:Come back later: this address stays the same.`,
  reading: $localize`:@@evergreen.reading:One moment.`,
};

/** The time of a show, in headers. */
export const scopeTexts = {
  for: $localize`:@@scope.for:For`,
  allShows: $localize`:@@scope.allShows:All shows`,
};

export const showNowTexts = {
  toGo: $localize`:@@desk.toGo:to go`,
  late: $localize`:@@desk.late:late`,
  running: $localize`:@@desk.running:running`,
};
