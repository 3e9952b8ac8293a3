/** Texts of this part, marked for Angular's own translation. */
export const chatTexts = {
  /** Of followers or buyers that are said together. */
  noticeOf: (names: readonly string[], others: number) =>
    others > 0
      ? $localize`:@@chat.noticeOthers:${names.join(', ')}:names: and ${others}:others: more`
      : names.join(', '),
  none: $localize`:@@chat.none:Every message from every destination comes in here, in the order in which it was written. A chat opens with the first feed to its destination.`,
  waiting: $localize`:@@chat.waiting:The chats are open. Nobody has written yet.`,
  list: $localize`:@@chat.list:Messages, in the order of writing`,
  house: $localize`:@@chat.house:the house`,
  beforePicture: $localize`:@@chat.beforePicture:before the picture`,
  showTime: (time: string) => $localize`:@@chat.showTime:at ${time}:time: of the show`,
  aboutTime: (time: string) =>
    $localize`:@@chat.aboutTime:at about ${time}:time: of the show, by the rule for this place`,
  practise: $localize`:@@chat.practise:Practise`,
  newBelow: (n: number) => $localize`:@@chat.newBelow:${n}:n: new below`,
  put: $localize`:@@chat.put:On programme`,
  takeOff: $localize`:@@chat.takeOff:Take off`,
  shorten: $localize`:@@chat.shorten:Shorten`,
  asOnScreen: $localize`:@@chat.asOnScreen:As it stands on the screen`,
  nextQuestion: $localize`:@@chat.nextQuestion:Next question`,
  noQuestionYet: $localize`:@@chat.noQuestionYet:Questions that are lined up come here, one at a time, large enough to be read from a chair.`,
  behind: (n: number) =>
    n === 1
      ? $localize`:@@chat.oneBehind:one more behind it`
      : $localize`:@@chat.behind:${n}:n: more behind it`,
  answeredNow: $localize`:@@chat.answeredNow:Answered`,
  later: $localize`:@@chat.later:Not now`,
  onProgramme: $localize`:@@chat.onProgramme:On the programme`,
  secondsLeft: (n: number) => $localize`:@@chat.secondsLeft:${n}:n: s left`,
  seconds: $localize`:@@chat.seconds:Seconds on the programme`,
  forSeconds: (n: number) => $localize`:@@chat.forSeconds:for ${n}:n: s`,
  answer: $localize`:@@chat.answer:Answer`,
  answering: (name: string, place: string) =>
    $localize`:@@chat.answering:Answer to ${name}:name:, at ${place}:place:`,
  answeringAlone: (name: string, place: string) =>
    $localize`:@@chat.answeringAlone:To ${name}:name: alone, at ${place}:place:`,
  toAll: $localize`:@@chat.toAll:To viewers everywhere`,
  toAllInstead: $localize`:@@chat.toAllInstead:To all instead`,
  write: $localize`:@@chat.write:Write`,
  writeArmed: (places: number) =>
    places === 1
      ? $localize`:@@chat.writeArmedOne:To everybody at 1 place. Press again`
      : $localize`:@@chat.writeArmed:To everybody at ${places}:places: places. Press again`,
  over: (n: number, place: string) => $localize`:@@chat.over:${n}:n: too long for ${place}:place:`,
  closed: $localize`:@@chat.closed:No chat is open.`,
  notSent: $localize`:@@chat.notSent:Not sent everywhere:`,
  again: $localize`:@@chat.again:Try again`,
  closeChats: $localize`:@@chat.closeChats:Close the chats`,
  closeArmed: $localize`:@@chat.closeArmed:Close them now`,
  afterwards: $localize`:@@chat.afterwards:The show is over; the chats stay open.`,
  lists: $localize`:@@chat.lists:Which messages`,
  all: $localize`:@@chat.all:Messages`,
  aside: $localize`:@@chat.aside:Set aside`,
  questions: $localize`:@@chat.questions:Questions`,
  noAside: $localize`:@@chat.noAside:Nothing is set aside. What the rules have something against, and what somebody sets aside, waits here.`,
  noQuestions: $localize`:@@chat.noQuestions:No question is lined up. Choose a message and press Q.`,
  lineUp: $localize`:@@chat.lineUp:Question`,
  unline: $localize`:@@chat.unline:Not a question`,
  answeredMark: $localize`:@@chat.answeredMark:Answered`,
  setAside: $localize`:@@chat.setAside:Set aside`,
  letThrough: $localize`:@@chat.letThrough:Let through`,
  hide: $localize`:@@chat.hide:Hide`,
  hideArmed: $localize`:@@chat.hideArmed:Hide it there too`,
  mute: $localize`:@@chat.mute:Mute`,
  muteArmed: $localize`:@@chat.muteArmed:Mute this writer`,
  unmute: $localize`:@@chat.unmute:Unmute the writer`,
  ban: $localize`:@@chat.ban:Ban`,
  banArmed: $localize`:@@chat.banArmed:Ban this writer there`,
  places: $localize`:@@chat.places:Places`,
  texts: $localize`:@@chat.texts:Texts`,
  takenBy: (name: string) => $localize`:@@chat.takenBy:${name}:name: is at it`,
  find: $localize`:@@chat.find:Find`,
  beginning: $localize`:@@chat.beginning:This is where it began.`,
  undo: $localize`:@@chat.undo:Undo`,
  untilTakenOff: $localize`:@@chat.untilTakenOff:until it is taken off`,
  asLongAsReading: $localize`:@@chat.asLongAsReading:as long as reading takes`,
  aloneTitle: $localize`:@@chat.aloneTitle:Viewers’ messages`,
  rules: $localize`:@@chat.rules:Rules`,
  kinds: {
    private: $localize`:@@chat.private:to us alone`,
    follow: $localize`:@@chat.follow:new follower`,
    sale: $localize`:@@chat.sale:sale`,
  },
  reactions: {
    heart: (n: number) =>
      n === 1 ? $localize`:@@chat.heart:one heart` : $localize`:@@chat.hearts:${n}:n: hearts`,
    clap: (n: number) =>
      n === 1 ? $localize`:@@chat.clap:one clap` : $localize`:@@chat.claps:${n}:n: claps`,
    laugh: (n: number) =>
      n === 1 ? $localize`:@@chat.laugh:one laugh` : $localize`:@@chat.laughs:${n}:n: laughs`,
    surprise: (n: number) =>
      n === 1 ? $localize`:@@chat.surprise:one surprise` : $localize`:@@chat.surprises:${n}:n: surprises`,
    other: (n: number) => $localize`:@@chat.otherReactions:${n}:n: others`,
  },
  inTheLastMinute: (n: number) => $localize`:@@chat.lastMinute:${n}:n: a minute`,
  isNew: $localize`:@@chat.isNew:new`,
  isNewMeaning: $localize`:@@chat.isNewMeaning:Their first message, in any of your shows at this place`,
  back: $localize`:@@chat.back:back`,
  backMeaning: (shows: number) =>
    shows === 1
      ? $localize`:@@chat.backOnce:Their first message today; they wrote in one show before`
      : $localize`:@@chat.backMeaning:Their first message today; they wrote in ${shows}:shows: shows before`,
  edited: $localize`:@@chat.edited:changed`,
  takenBack: $localize`:@@chat.takenBack:Taken back by whoever wrote it: nobody else reads it any more.`,
  toUs: $localize`:@@chat.toUs:To us alone`,
  noPrivate: $localize`:@@chat.noPrivate:What viewers write to the house alone comes here. Answers go to them alone.`,
  tellHost: $localize`:@@chat.tellHost:Tell the host`,
  forHost: {
    told: $localize`:@@chat.toldHost:told the host`,
    seen: $localize`:@@chat.hostSaw:seen by the host`,
  },
  forYou: $localize`:@@chat.forYou:For you`,
  seenByHost: $localize`:@@chat.seenByHost:Seen`,
  viewer: $localize`:@@chat.viewer:Viewer`,
  done: {
    let_through: $localize`:@@done.letThrough:Let through.`,
    set_aside: $localize`:@@done.setAside:Set aside.`,
    hide: $localize`:@@done.hide:Hidden here and there.`,
    mute: $localize`:@@done.mute:Muted: nothing of this writer is shown here.`,
    unmute: $localize`:@@done.unmute:Unmuted.`,
    ban: $localize`:@@done.ban:Banned there, and muted here.`,
    unban: $localize`:@@done.unban:No longer banned or muted.`,
    line_up: $localize`:@@done.lineUp:Lined up.`,
    answered: $localize`:@@done.answered:Answered.`,
    unline: $localize`:@@done.unline:Taken out of the questions.`,
    tell_host: $localize`:@@done.tellHost:The host is told, quietly.`,
    host_seen: $localize`:@@done.hostSeen:Seen.`,
    take: '',
    release: '',
  },
  files: $localize`:@@chat.files:Chat`,
  filesText: $localize`:@@chat.filesText:Everything that was written, with show time`,
  csv: $localize`:@@chat.csv:Save CSV`,
  csvName: $localize`:@@chat.csvName:Save CSV of the chat`,
  vtt: $localize`:@@chat.vtt:Save WebVTT`,
  jsonl: $localize`:@@chat.jsonl:Save JSON lines`,
  jsonlName: $localize`:@@chat.jsonlName:Save JSON lines of the chat`,
  txt: $localize`:@@chat.txt:Save text`,
  txtName: $localize`:@@chat.txtName:Save text of the chat`,
  vttName: $localize`:@@chat.vttName:Save WebVTT of the chat`,
};

/** Why a message is not shown, after the rule or the person. */
export const standingWords = {
  byRule: {
    words: $localize`:@@standing.words:a word that is not wanted`,
    links: $localize`:@@standing.links:an address`,
    flood: $localize`:@@standing.flood:many in a row`,
    repeat: $localize`:@@standing.repeat:the same from many`,
    capitals: $localize`:@@standing.capitals:all in capitals`,
    first: $localize`:@@standing.first:a first message`,
    new_account: $localize`:@@standing.newAccount:a new account`,
    language: $localize`:@@standing.language:another language`,
    long: $localize`:@@standing.long:very long`,
    in_flood: $localize`:@@standing.inFlood:part of a flood`,
  },
  aside: (why: string) => $localize`:@@standing.aside:Set aside: ${why}:why:`,
  hidden: (why: string) => $localize`:@@standing.hidden:Hidden: ${why}:why:`,
  onlyHere: $localize`:@@standing.onlyHere:Viewers there still see it.`,
};

/** What is known of a viewer. */
export const viewerTexts = {
  account: (days: number) =>
    days < 60
      ? $localize`:@@viewer.accountDays:account is ${days}:days: days old`
      : $localize`:@@viewer.accountMonths:account is ${Math.round(days / 30.4)}:months: months old`,
  hidden: (n: number) =>
    n === 1
      ? $localize`:@@viewer.hiddenOne:One message was hidden.`
      : $localize`:@@viewer.hidden:${n}:n: messages were hidden.`,
  neverBefore: $localize`:@@viewer.neverBefore:Wrote in none of your shows before, at this place.`,
  wrote: (n: number) =>
    n === 1 ? $localize`:@@viewer.wroteOne:one message` : $localize`:@@viewer.wrote:${n}:n: messages`,
  note: $localize`:@@viewer.note:Note for the team`,
  keep: $localize`:@@viewer.keep:Keep the note`,
  kept: $localize`:@@viewer.kept:Kept. No viewer ever sees it.`,
  dropped: $localize`:@@viewer.dropped:There is no note any more.`,
  by: (name: string) => $localize`:@@viewer.by:by ${name}:name:`,
};

export const chatFigureTexts = {
  title: $localize`:@@chatFigures.title:Messages over the show`,
  none: $localize`:@@chatFigures.none:Nobody has written.`,
  written: (messages: number, writers: number) =>
    $localize`:@@chatFigures.written:${messages}:messages: messages by ${writers}:writers: viewers`,
  questions: (questions: number, askers: number, answered: number) =>
    `${questions === 1 ? $localize`:@@chatFigures.question:1 question` : $localize`:@@chatFigures.questions:${questions}:n: questions`} ${askers === 1 ? $localize`:@@chatFigures.asker:from 1 viewer` : $localize`:@@chatFigures.askers:from ${askers}:n: viewers`}, ${$localize`:@@chatFigures.answered:${answered}:n: answered`}`,
  returning: (n: number) => $localize`:@@chatFigures.returning:${n}:n: of them had written before`,
  told: (most: number, minute: number) =>
    $localize`:@@chatFigures.told:Messages by the minute of the show; most in minute ${minute}:minute:, with ${most}:most:`,
  reactions: (n: number, minute: number | null) =>
    minute === null
      ? $localize`:@@chatFigures.reactions:${n}:n: reactions`
      : $localize`:@@chatFigures.reactionsMost:${n}:n: reactions, most in minute ${minute}:minute:`,
  followers: (n: number) =>
    n === 1
      ? $localize`:@@chatFigures.follower:one new follower`
      : $localize`:@@chatFigures.followers:${n}:n: new followers`,
  sales: (n: number) =>
    n === 1 ? $localize`:@@chatFigures.sale:one sale` : $localize`:@@chatFigures.sales:${n}:n: sales`,
  notShown: (n: number) => $localize`:@@chatFigures.notShown:${n}:n: not shown`,
  response: (time: string) =>
    $localize`:@@chatFigures.response:half of the answers in writing within ${time}:time:`,
};

export const finderTexts = {
  title: $localize`:@@finder.title:Find messages`,
  text: $localize`:@@finder.text:Words or a writer`,
  place: $localize`:@@finder.place:Place`,
  everywhere: $localize`:@@finder.everywhere:everywhere`,
  kind: $localize`:@@finder.kind:What`,
  kinds: {
    any: $localize`:@@finder.any:all`,
    viewers: $localize`:@@finder.viewers:by viewers`,
    house: $localize`:@@finder.house:by the house`,
    questions: $localize`:@@finder.questions:lined up`,
    answered: $localize`:@@finder.answered:answered`,
    not_shown: $localize`:@@finder.notShown:not shown`,
    private: $localize`:@@finder.private:to us alone`,
    events: $localize`:@@finder.events:followers and sales`,
    first: $localize`:@@finder.first:first messages`,
  },
  from: $localize`:@@finder.from:From minute`,
  close: $localize`:@@finder.close:Close`,
  found: (n: number, more: boolean) =>
    more
      ? $localize`:@@finder.foundMore:The last ${n}:n: that match`
      : $localize`:@@finder.found:${n}:n: match`,
  nothing: $localize`:@@finder.nothing:Nothing matches.`,
};

export const houseTextTexts = {
  title: $localize`:@@houseTexts.title:Texts`,
  ready: $localize`:@@houseTexts.ready:Kept ready`,
  readyText: (names: string) =>
    $localize`:@@houseTexts.readyText:The house’s, for all shows. These are filled in: ${names}:names:`,
  noneReady: $localize`:@@houseTexts.noneReady:None yet. What is written every week is worth keeping.`,
  readyNumber: (n: number) => $localize`:@@houseTexts.readyNumber:Text ${n}:n:`,
  use: $localize`:@@houseTexts.use:Use`,
  useNumber: (n: number) => $localize`:@@houseTexts.useNumber:Use text ${n}:n:`,
  drop: $localize`:@@houseTexts.drop:Remove`,
  dropNumber: (n: number) => $localize`:@@houseTexts.dropNumber:Remove text ${n}:n:`,
  add: $localize`:@@houseTexts.add:Add a text`,
  timed: $localize`:@@houseTexts.timed:Written by itself`,
  timedText: $localize`:@@houseTexts.timedText:At its time, to viewers wherever one can write, once.`,
  noneTimed: $localize`:@@houseTexts.noneTimed:None in this show. A welcome before the start, or a link at its moment, could be.`,
  timedNumber: (n: number) => $localize`:@@houseTexts.timedNumber:Timed text ${n}:n:`,
  minutesNumber: (n: number) => $localize`:@@houseTexts.minutesNumber:Minutes of timed text ${n}:n:`,
  whenNumber: (n: number) => $localize`:@@houseTexts.whenNumber:From when timed text ${n}:n: counts`,
  dropTimedNumber: (n: number) => $localize`:@@houseTexts.dropTimedNumber:Remove timed text ${n}:n:`,
  before: $localize`:@@houseTexts.before:minutes before the start`,
  show: $localize`:@@houseTexts.show:minutes into the show`,
  addTimed: $localize`:@@houseTexts.addTimed:Add one that is written by itself`,
  states: {
    waiting: '',
    sent: $localize`:@@houseTexts.sent:Written.`,
    partly: $localize`:@@houseTexts.partly:Not written everywhere.`,
    missed: $localize`:@@houseTexts.missed:Not written: its time had gone by.`,
  },
  unknown: (names: string) => $localize`:@@houseTexts.unknown:${names}:names: stands for nothing.`,
  save: $localize`:@@houseTexts.save:Save`,
  saved: $localize`:@@houseTexts.saved:Saved.`,
  takeTheirs: $localize`:@@houseTexts.takeTheirs:Show me theirs`,
  keepMine: $localize`:@@houseTexts.keepMine:Save mine all the same`,
  close: $localize`:@@houseTexts.close:Close`,
};

export const chatPlaceTexts = {
  title: $localize`:@@chatPlaces.title:Who may write at the places`,
  intro: $localize`:@@chatPlaces.intro:Each place keeps to its own rules. They are read from there, set there and read back.`,
  slow: $localize`:@@chatPlaces.slow:One message every`,
  seconds: $localize`:@@chatPlaces.seconds:s`,
  account: $localize`:@@chatPlaces.account:Accounts of at least`,
  days: $localize`:@@chatPlaces.days:days`,
  followers: $localize`:@@chatPlaces.followers:Followers only`,
  none: $localize`:@@chatPlaces.none:No chat is open.`,
  asking: $localize`:@@chatPlaces.asking:Asking the places…`,
  set: $localize`:@@chatPlaces.set:Set, and read back from the place.`,
  slowEverywhere: $localize`:@@chatPlaces.slowEverywhere:Slow everywhere: one in 30 s`,
  asBefore: $localize`:@@chatPlaces.asBefore:As often as they like again`,
  close: $localize`:@@chatPlaces.close:Close`,
};

export const floodTexts = {
  samples: $localize`:@@flood.samples:What most of it says`,
  coming: $localize`:@@flood.coming:A flood is coming in`,
  came: $localize`:@@flood.came:A flood came in`,
  aside: $localize`:@@flood.aside:A flood is set aside`,
  size: (messages: number, writers: number, places: string) =>
    writers === 1
      ? $localize`:@@flood.sizeOne:${messages}:messages: messages from one writer, at ${places}:places:`
      : $localize`:@@flood.size:${messages}:messages: messages that are much alike, from ${writers}:writers: writers, at ${places}:places:`,
  more: $localize`:@@flood.more:What still comes of it is set aside as well.`,
  setAside: $localize`:@@flood.setAside:Set all of it aside`,
  letBe: $localize`:@@flood.letBe:Not a flood`,
  takeBack: $localize`:@@flood.takeBack:Undo`,
  putAway: $localize`:@@flood.putAway:Seen`,
};

export const chatRuleTexts = {
  title: $localize`:@@chatRules.title:Rules for messages`,
  intro: $localize`:@@chatRules.intro:Each message is held against them as it comes, in this order. The first that has something against it decides.`,
  on: $localize`:@@chatRules.on:On`,
  rule: $localize`:@@chatRules.rule:Rule`,
  then: $localize`:@@chatRules.then:Then`,
  aside: $localize`:@@chatRules.aside:set it aside`,
  hide: $localize`:@@chatRules.hide:hide it`,
  kinds: {
    words: $localize`:@@chatRules.words:These words and phrases, however they are disguised`,
    links: $localize`:@@chatRules.links:Links, except to these sites`,
    flood: $localize`:@@chatRules.flood:Messages from one viewer in 10 s, more than`,
    repeat: $localize`:@@chatRules.repeat:The same within a minute from more writers than`,
    capitals: $localize`:@@chatRules.capitals:Mostly capitals`,
    first: $localize`:@@chatRules.first:A writer’s first message`,
    new_account: $localize`:@@chatRules.newAccount:An account younger than so many days`,
    language: $localize`:@@chatRules.language:In a language other than these`,
    long: $localize`:@@chatRules.long:More characters than`,
  },
  lines: $localize`:@@chatRules.lines:One a line.`,
  linesLanguage: $localize`:@@chatRules.linesLanguage:One a line, as en, es, de. Short messages are in no language.`,
  of: $localize`:@@chatRules.of:Which rules`,
  ofHouse: $localize`:@@chatRules.ofHouse:The house’s, for every show`,
  ofShow: $localize`:@@chatRules.ofShow:This show’s own`,
  houseHolds: $localize`:@@chatRules.houseHolds:These hold in this show.`,
  showHolds: $localize`:@@chatRules.showHolds:This show has its own: these hold in the others.`,
  ownHolds: $localize`:@@chatRules.ownHolds:They hold in this show instead of the house’s.`,
  ownNone: $localize`:@@chatRules.ownNone:It has none yet: the house’s hold. Saved here, these will be its own.`,
  dropOwn: $localize`:@@chatRules.dropOwn:Have none of its own`,
  dropped: $localize`:@@chatRules.dropped:The house’s hold here again.`,
  where: $localize`:@@chatRules.where:Where`,
  everywhere: $localize`:@@chatRules.everywhere:everywhere`,
  takeTheirs: $localize`:@@chatRules.takeTheirs:Show me theirs`,
  keepMine: $localize`:@@chatRules.keepMine:Save mine all the same`,
  tryOut: $localize`:@@chatRules.tryOut:Try on this show’s messages`,
  tried: (caught: number, all: number) =>
    $localize`:@@chatRules.tried:They would have caught ${caught}:caught: of ${all}:all:.`,
  tryFile: $localize`:@@chatRules.tryFile:Try on a file of messages (JSON lines)`,
  reading: $localize`:@@chatRules.reading:Reading the file…`,
  floods: (n: number) =>
    n === 1
      ? $localize`:@@chatRules.oneFlood:One flood would have been noticed.`
      : $localize`:@@chatRules.floods:${n}:n: floods would have been noticed.`,
  unread: (n: number) =>
    n === 1
      ? $localize`:@@chatRules.oneUnread:One line of the file could not be read.`
      : $localize`:@@chatRules.unread:${n}:n: lines of the file could not be read.`,
  unreadable: $localize`:@@chatRules.unreadable:This file could not be read. Save the chat of a show as JSON lines, and choose that.`,
  tooLarge: $localize`:@@chatRules.tooLarge:This file is larger than 200 MB. Choose one of a single show.`,
  save: $localize`:@@chatRules.save:Save`,
  close: $localize`:@@chatRules.close:Close`,
  saved: $localize`:@@chatRules.saved:Saved. They hold for what comes from now on.`,
};
