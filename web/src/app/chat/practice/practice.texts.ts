/** Texts of this part, marked for Angular's own translation. */
export const practiceTexts = {
  mark: $localize`:@@practice.mark:practice`,
  title: $localize`:@@practice.title:Practise with the messages of another evening`,
  intro: $localize`:@@practice.intro:They come in here once more, in their time, for whoever moderates: with your rules, and answers that go nowhere. No place is asked for anything. It all goes away when the practice ends: by a key here, or by itself when the first chat opens.`,
  ofShow: $localize`:@@practice.ofShow:Messages of a show`,
  choose: $localize`:@@practice.choose:Choose one`,
  noShows: $localize`:@@practice.noShows:None of your shows is over yet. A file does as well.`,
  ofFile: $localize`:@@practice.ofFile:Or a file of messages (JSON lines, as saved from a show)`,
  reading: $localize`:@@practice.reading:Reading the messages`,
  tooLarge: $localize`:@@practice.tooLarge:This file is heavier than 8 MB. Take one of a shorter evening.`,
  nothing: $localize`:@@practice.nothing:No message of a viewer could be read in it.`,
  notRead: $localize`:@@practice.notRead:This file could not be read here. Choose it once more.`,
  noDestinations: $localize`:@@practice.noDestinations:This show goes nowhere yet. Choose its destinations in the plan first.`,
  found: (messages: number, ofHouse: number) =>
    ofHouse > 0
      ? $localize`:@@practice.foundWithout:${messages}:n: messages. What the house wrote (${ofHouse}:house:) is left out: that is yours to do.`
      : messages === 1
        ? $localize`:@@practice.foundOne:One message.`
        : $localize`:@@practice.found:${messages}:n: messages.`,
  silences: $localize`:@@practice.silences:Silences are cut to 15 s.`,
  unread: (lines: number) =>
    lines === 1
      ? $localize`:@@practice.unreadOne:One line could not be read.`
      : $localize`:@@practice.unread:${lines}:n: lines could not be read.`,
  tooMany: (messages: number) =>
    $localize`:@@practice.tooMany:The last ${messages}:n: are too many and are left out.`,
  elsewhere: (names: string) =>
    $localize`:@@practice.elsewhere:This show does not go to ${names}:names:; those come as from its own destinations.`,
  howFast: $localize`:@@practice.howFast:How fast`,
  speeds: {
    1: $localize`:@@practice.asItWas:As it was`,
    2: $localize`:@@practice.twice:Twice as fast`,
    4: $localize`:@@practice.fourTimes:4 times as fast`,
    8: $localize`:@@practice.eightTimes:8 times as fast`,
  },
  takes: (minutes: number) =>
    minutes < 2
      ? $localize`:@@practice.takesOne:about a minute`
      : $localize`:@@practice.takes:${minutes}:n: min`,
  begin: $localize`:@@practice.begin:Begin`,
  close: $localize`:@@practice.close:Close`,
  on: $localize`:@@practice.on:Practice`,
  progress: (given: number, messages: number, by: string) =>
    given < messages
      ? $localize`:@@practice.progress:${given}:given: of ${messages}:n: messages have come, begun by ${by}:name:`
      : $localize`:@@practice.through:All ${messages}:n: messages have come, begun by ${by}:name:`,
  end: $localize`:@@practice.end:End the practice`,
  endArmed: $localize`:@@practice.endArmed:End it for all, and clear`,
  over: $localize`:@@practice.over:The practice is over`,
  notShown: (then: number, both: number, more: number) =>
    $localize`:@@practice.notShown:Of ${then}:then: that were set aside or hidden that evening, ${both}:both: were so now, and ${more}:more: more.`,
  asked: (then: number, both: number, more: number) =>
    $localize`:@@practice.asked:Of ${then}:then: questions, ${both}:both: became one again, and ${more}:more: more.`,
  nothingDone: $localize`:@@practice.nothingDone:Nothing was set aside, hidden or made a question, then or now.`,
  goesNowhere: $localize`:@@practice.goesNowhere:Practice: what you write stays here, and no viewer reads it.`,
  putAway: $localize`:@@practice.putAway:Put away`,
};
