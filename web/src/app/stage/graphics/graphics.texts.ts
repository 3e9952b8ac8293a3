import { TICKER_LINE_MAX, TICKER_LINES_MAX } from '@juncta/core/stage';

export const graphicsTexts = {
  title: $localize`:@@graphics.title:Graphics`,
  intro: $localize`:@@graphics.intro:Viewers see them over whatever is on programme.`,
  on: $localize`:@@graphics.on:Show`,
  off: $localize`:@@graphics.off:Take off`,
  toggle: (isOn: boolean, name: string) =>
    isOn
      ? $localize`:@@graphics.toggleOff:Take off: ${name}:name:`
      : $localize`:@@graphics.toggleOn:Show: ${name}:name:`,
  close: $localize`:@@graphics.close:Close`,
  ticker: $localize`:@@graphics.ticker:Ticker`,
  lines: $localize`:@@graphics.lines:Lines, one below another`,
  useLines: $localize`:@@graphics.useLines:Use these lines`,
  noLines: $localize`:@@graphics.noLines:Write a line first: a ticker without one shows nothing.`,
  tooLong: (line: string) =>
    $localize`:@@graphics.tooLong:“${line.slice(0, 30)}:line:…” has more than ${TICKER_LINE_MAX}:max: characters. Cut it into two lines.`,
  tooMany: $localize`:@@graphics.tooMany:More than ${TICKER_LINES_MAX}:max: lines. Leave some out.`,
  clock: $localize`:@@graphics.clock:Clock`,
  reads: $localize`:@@graphics.reads:It reads`,
  readings: {
    time_of_day: $localize`:@@graphics.timeOfDay:the time of day`,
    countdown: $localize`:@@graphics.countdown:a countdown`,
  },
  minutes: $localize`:@@graphics.minutes:Minutes from now`,
  count: $localize`:@@graphics.count:Count`,
  toStart: $localize`:@@graphics.toStart:To the start`,
  toEnd: $localize`:@@graphics.toEnd:To the end`,
  countsTo: (time: string) => $localize`:@@graphics.countsTo:Counts down to ${time}:time:.`,
  countsToNothing: $localize`:@@graphics.countsToNothing:Say first what it counts down to.`,
  minutesWrong: $localize`:@@graphics.minutesWrong:Minutes are a number from 1 to 600.`,
  zone: (city: string) => $localize`:@@graphics.zone:Of ${city}:city:.`,
  link: $localize`:@@graphics.link:Link`,
  linkLine: $localize`:@@graphics.linkLine:Line`,
  linkAddress: $localize`:@@graphics.linkAddress:Address`,
  linkText: $localize`:@@graphics.linkText:With a square that phones read. It gives way to a viewer’s message.`,
  notAnAddress: $localize`:@@graphics.notAnAddress:Not an address of the web. One is like mill.example/doors.`,
  score: $localize`:@@graphics.score:Score board`,
  side: [$localize`:@@graphics.left:Left side`, $localize`:@@graphics.right:Right side`],
  more: (name: string) => $localize`:@@graphics.more:A point more for ${name}:name:`,
  fewer: (name: string) => $localize`:@@graphics.fewer:A point fewer for ${name}:name:`,
  points: (name: string) => $localize`:@@graphics.points:Points of ${name}:name:`,
  resetPoints: $localize`:@@graphics.resetPoints:Both to nought`,
  chat: $localize`:@@graphics.chat:Chat in the picture`,
  chatText: $localize`:@@graphics.chatText:Viewers’ messages that are let through. What is hidden leaves at once.`,
  overlayPage: $localize`:@@graphics.overlayPage:The same as a page for outside encoders`,
  boxSide: $localize`:@@graphics.boxSide:Side`,
  sides: {
    left: $localize`:@@graphics.boxLeft:left`,
    right: $localize`:@@graphics.boxRight:right`,
  },
  boxSize: $localize`:@@graphics.boxSize:Letters`,
  sizes: {
    small: $localize`:@@graphics.boxSmall:small`,
    large: $localize`:@@graphics.boxLarge:large`,
  },
  boxGround: $localize`:@@graphics.boxGround:Ground`,
  grounds: {
    paper: $localize`:@@graphics.boxPaper:paper`,
    ground: $localize`:@@graphics.boxGroundOf:ground`,
    none: $localize`:@@graphics.boxNone:none`,
  },
  boxMost: $localize`:@@graphics.boxMost:At once`,
  boxDelay: $localize`:@@graphics.boxDelay:Appears after`,
  seconds: (seconds: number) =>
    seconds === 0
      ? $localize`:@@graphics.atOnce:no time`
      : $localize`:@@graphics.seconds:${seconds}:seconds: s`,
  boxStays: $localize`:@@graphics.boxStays:Stays for`,
  staysOn: $localize`:@@graphics.staysOn:no limit`,
  notices: $localize`:@@graphics.notices:Followers and sales too`,
  from: $localize`:@@graphics.from:From`,
};
