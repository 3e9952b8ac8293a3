import type { ProgrammeReport } from '@juncta/contract/relay';
import type { PictureFigures } from '@juncta/core/programme';
import type { Adjustment, Layout, StageRefusal } from '@juncta/core/stage';
import type { DeviceProblem } from './sources/devices';
import type { Missing } from './support';

/** Texts of this part, marked for Angular's own translation. */
export const layoutNames: Record<Layout, string> = {
  auto: $localize`:@@stage.auto:Auto`,
  alone: $localize`:@@stage.alone:Alone`,
  pair: $localize`:@@stage.pair:Pair`,
  row: $localize`:@@stage.row:Row`,
  grid: $localize`:@@stage.grid:Grid`,
  beside: $localize`:@@stage.beside:Beside`,
  beneath: $localize`:@@stage.beneath:Beneath`,
  column: $localize`:@@stage.column:Column`,
  inset: $localize`:@@stage.inset:Inset`,
  screens: $localize`:@@stage.screens:Screens`,
};

/** What a layout does, where its name does not say it. */
export const layoutWords: Partial<Record<Layout, string>> = {
  auto: $localize`:@@stage.autoText:Chosen by who and what is there`,
  alone: $localize`:@@stage.aloneText:The first over the whole picture`,
  beside: $localize`:@@stage.besideText:The first large, the others at the side`,
  beneath: $localize`:@@stage.beneathText:The first large, the others underneath`,
  column: $localize`:@@stage.columnText:A screen large, people at its side`,
  inset: $localize`:@@stage.insetText:A screen over the whole picture, the first person in its corner`,
  screens: $localize`:@@stage.screensText:Two screens side by side, people underneath`,
};

/** Why what was done at the stage was not. */
export const refusedSentences: Record<StageRefusal, string> = {
  full: $localize`:@@stage.full:The picture is full. Take somebody off first.`,
  nothing_armed: $localize`:@@stage.nothingArmed:Nothing is prepared, so there is nothing to take.`,
  too_many_outside: $localize`:@@stage.tooManyOutside:As many outside pictures are on the stage as one computer can decode. Remove one first.`,
  source_taken: $localize`:@@stage.sourceTaken:Another outside picture stands for this already.`,
  taken_before: $localize`:@@stage.takenBefore:Another desk took a moment before. Nothing was taken twice.`,
};

export const missingSentences: Record<Exclude<Missing, 'devices'>, string> = {
  secure: $localize`:@@stage.missingSecure:The page was not opened over HTTPS. Open it by its https:// address, or on this machine as localhost.`,
  workers: $localize`:@@stage.missingWorkers:It cannot draw away from the page.`,
  video_encoder: $localize`:@@stage.missingPicture:It cannot encode H.264. A current Chromium-based browser can.`,
  audio_encoder: $localize`:@@stage.missingSound:It cannot encode Opus. A current Chromium-based browser can.`,
};

export const deviceSentences: Record<DeviceProblem, string> = {
  refused: $localize`:@@stage.deviceRefused:The browser was told not to give the camera to this page. Allow it beside the page’s address, then try again. The test pattern works without.`,
  none: $localize`:@@stage.deviceNone:No camera or microphone was found. Plug one in and try again. The test pattern works without.`,
  busy: $localize`:@@stage.deviceBusy:Another program uses the camera. Close it and try again. The test pattern works without.`,
  no_screen: $localize`:@@stage.noScreen:No screen was shared: none was chosen, or the browser may not record the screen on this computer.`,
  screen_ended: $localize`:@@stage.screenEnded:The screen is shared no longer. It is off the programme.`,
};

/** What viewers get, as the relay says. */
export const programmeWords: Record<ProgrammeReport['state'], string> = {
  waiting: '',
  source: $localize`:@@stage.airSource:The relay has the programme.`,
  slate: $localize`:@@stage.airSlate:The relay gets no picture: viewers see the standby slate.`,
  covered: $localize`:@@stage.airCovered:Covered: viewers see the standby slate and hear nothing.`,
};

export const stageTexts = {
  graphics: $localize`:@@stage.graphics:Graphics`,
  graphicsText: $localize`:@@stage.graphicsText:Ticker, chat, link, score board and clock, over whatever is on programme`,
  armed: $localize`:@@stage.armed:Next`,
  armedPicture: $localize`:@@stage.armedPicture:What comes next`,
  programme: $localize`:@@stage.programmeNow:Programme`,
  fromOutside: $localize`:@@stage.fromOutside:Or take a picture that is made elsewhere`,
  prepare: $localize`:@@stage.prepare:Prepare next`,
  prepareText: $localize`:@@stage.prepareText:Put together what comes next without anybody seeing it. Until it is taken, all keys of the stage change what comes next.`,
  dropNext: $localize`:@@stage.dropNext:Drop next`,
  dropNextText: $localize`:@@stage.dropNextText:What was prepared is forgotten; viewers see no difference.`,
  take: $localize`:@@stage.take:Take`,
  takeBy: $localize`:@@stage.takeBy:by`,
  mix: (ms: number) =>
    ms === 0
      ? $localize`:@@stage.cut:a cut`
      : $localize`:@@stage.mix:a mix of ${(ms / 1000).toFixed(1)}:seconds: s`,
  next: $localize`:@@stage.next:Next`,
  nextName: (name: string) => $localize`:@@stage.nextName:${name}:name: in what comes next`,
  screenOf: (name: string) => $localize`:@@stage.screenOf:Screen of ${name}:name:`,
  sourceNumber: (words: string, number: number) =>
    $localize`:@@stage.sourceNumber:${words}:what:, no. ${number}:number:`,
  cameraOf: (name: string) => $localize`:@@stage.cameraOf:Camera of ${name}:name:`,
  sourceGone: $localize`:@@stage.sourceGone:not there`,
  thisDesk: $localize`:@@stage.thisDesk:the desk`,
  sources: $localize`:@@stage.sources:Sources`,
  sourcesTitle: $localize`:@@stage.sourcesTitle:Sources of this desk`,
  sourcesIntro: $localize`:@@stage.sourcesIntro:What this computer can put into the picture. It waits in the wings until it is brought on.`,
  sourcesNone: $localize`:@@stage.sourcesNone:Nothing yet. Add a camera, a screen or a test pattern.`,
  sourcesGiven: $localize`:@@stage.sourcesGiven:Given by this desk`,
  sourceFor: $localize`:@@stage.sourceFor:Whose`,
  chooseCamera: $localize`:@@stage.chooseCamera:Camera`,
  chooseMicrophone: $localize`:@@stage.chooseMicrophone:Microphone`,
  usualDevice: $localize`:@@stage.usualDevice:the usual one`,
  noDevice: $localize`:@@stage.noDevice:none`,
  unnamed: (number: number) => $localize`:@@stage.unnamedDevice:no. ${number}:number:`,
  otherDevices: $localize`:@@stage.otherDevices:Other camera or microphone`,
  addCamera: $localize`:@@stage.addCamera:Add camera`,
  addScreen: $localize`:@@stage.addScreen:Share a screen…`,
  addPattern: $localize`:@@stage.addPattern:Add test pattern`,
  film: $localize`:@@stage.film:it moves, as a film does`,
  grainy: $localize`:@@stage.grainy:grainy, as hard to encode as a camera`,
  dropSource: (words: string) => $localize`:@@stage.dropSource:Remove ${words}:what:`,
  close: $localize`:@@stage.close:Close`,
  nobody: $localize`:@@stage.nobody:nobody`,
  picture: $localize`:@@stage.picture:The programme’s picture`,
  noProgramme: $localize`:@@stage.noProgramme:No picture yet`,
  noProgrammeText: $localize`:@@stage.noProgrammeText:What goes out is composed here. Nothing leaves the house until a feed is started.`,
  begin: $localize`:@@stage.begin:Compose here`,
  composedBy: (name: string) => $localize`:@@stage.composedBy:${name}:name: composes at another desk`,
  composedByText: $localize`:@@stage.composedByText:Taking over interrupts the picture for a second or two.`,
  takeOver: $localize`:@@stage.takeOver:Take over`,
  takeOverArmed: $localize`:@@stage.takeOverArmed:Take over now`,
  unsupported: $localize`:@@stage.unsupported:This browser cannot compose a programme`,
  failed: $localize`:@@stage.failed:The programme could not be opened here. Reload the page and try again.`,
  encoderFailed: (why: string) =>
    $localize`:@@stage.encoderFailed:This browser stopped encoding (${why}:why:). Reload the page: it comes back into the show.`,
  layout: $localize`:@@stage.layout:Layout`,
  names: $localize`:@@stage.names:Names`,
  cover: $localize`:@@stage.cover:Cover`,
  uncover: $localize`:@@stage.uncover:Show again`,
  begins: (time: string, city: string) => $localize`:@@stage.begins:${time}:time:, ${city}:city: time`,
  coverText: $localize`:@@stage.coverText:Slate and silence at once, everywhere`,
  covered: $localize`:@@stage.covered:Covered: viewers see the slate`,
  sound: $localize`:@@stage.sound:Sound`,
  level: $localize`:@@stage.level:Sound level of the programme`,
  framesPerS: $localize`:@@stage.framesPerS:pictures/s`,
  toRelay: $localize`:@@stage.toRelay:kbit/s to the relay`,
  here: (count: number) => $localize`:@@stage.here:${count}:count: here`,
  notHere: (count: number) => $localize`:@@stage.notHere:${count}:count: not here yet`,
  lowered: (kbps: number) =>
    $localize`:@@stage.lowered:The line carries less just now: the picture is sent at ${kbps}:kbps: kbit/s, softer than usual.`,
  relayLost: $localize`:@@stage.relayLost:No line to the relay; what is composed is kept here`,
  missed: (n: number) => $localize`:@@stage.missed:${n}:n: packets still to be delivered`,
  drawn: {
    smaller: $localize`:@@stage.drawnSmaller:This computer cannot keep up: the picture is less sharp. Close other programs, or take people off.`,
    smaller_halved: $localize`:@@stage.drawnHalved:This computer cannot keep up: half the frames, less sharp. Close other programs, or take people off.`,
  },
  notEncoded: ({ width, height, rateHz }: PictureFigures) =>
    $localize`:@@stage.notEncoded:This browser does not encode ${width}:width:x${height}:height: at ${rateHz}:rate: frames a second. Choose another picture beside the feeds.`,
  notKept: $localize`:@@stage.notKept:This browser keeps nothing on its disk: what the relay misses would be lost with the page.`,
  expected: $localize`:@@stage.expected:expected`,
  kinds: {
    pattern: $localize`:@@stage.kindPattern:test pattern`,
    camera: $localize`:@@stage.kindCamera:camera`,
    screen: $localize`:@@stage.kindScreen:screen`,
    guest: $localize`:@@stage.kindGuest:here by link`,
    outside: $localize`:@@stage.kindOutside:from outside`,
  },
  noPlace: $localize`:@@stage.noPlace:heard, not seen: the layout is for fewer`,
  lostVideo: $localize`:@@stage.lostVideo:The camera is gone.`,
  lostAudio: $localize`:@@stage.lostAudio:The microphone is gone.`,
  replacedVideo: $localize`:@@stage.replacedVideo:The camera is gone; another one shows until it is back.`,
  replacedAudio: $localize`:@@stage.replacedAudio:The microphone is gone; another one is heard until it is back.`,
  lostBoth: $localize`:@@stage.lostBoth:Camera and microphone are gone.`,
  outsidePicture: $localize`:@@stage.outsidePicture:Outside picture`,
  lostOutside: $localize`:@@stage.lostOutside:Nothing comes from its encoder.`,
  silentOutside: $localize`:@@stage.silentOutside:It comes without sound.`,
  offered: $localize`:@@stage.offered:offered by a guest`,
  accept: $localize`:@@stage.accept:Accept`,
  acceptName: (name: string) => $localize`:@@stage.acceptName:Accept ${name}:name:`,
  decline: $localize`:@@stage.decline:Decline`,
  declineName: (name: string) => $localize`:@@stage.declineName:Decline ${name}:name:`,
  soundOff: $localize`:@@stage.soundOff:Their sound is off: they turned it off themselves.`,
  soundAsked: $localize`:@@stage.soundAsked:Their sound is off. They are asked to turn it on.`,
  askSound: $localize`:@@stage.askSound:Ask for it`,
  askSoundName: (name: string) => $localize`:@@stage.askSoundName:Ask ${name}:name: to turn their sound on`,
  guestConnecting: $localize`:@@stage.guestConnecting:here, connecting`,
  guestMuted: $localize`:@@stage.guestMuted:here, sound off`,
  guestNoVideo: $localize`:@@stage.guestNoVideo:here, picture off`,
  guestSilent: $localize`:@@stage.guestSilent:here, picture and sound off`,
  sendIn: $localize`:@@stage.sendIn:Send in a stand-in guest`,
  sendAway: $localize`:@@stage.sendAway:Send away`,
  sendAwayName: (name: string) => $localize`:@@stage.sendAwayName:Send away ${name}:name:`,
  bringOn: $localize`:@@stage.bringOn:Bring on`,
  bringOnName: (name: string) => $localize`:@@stage.bringOnName:Bring on ${name}:name:`,
  takeOff: $localize`:@@stage.takeOff:Take off`,
  takeOffName: (name: string) => $localize`:@@stage.takeOffName:Take off ${name}:name:`,
  pattern: $localize`:@@stage.pattern:Pattern`,
  patternName: (name: string) => $localize`:@@stage.patternName:Pattern for ${name}:name:`,
  camera: $localize`:@@stage.camera:Camera`,
  cameraName: (name: string) => $localize`:@@stage.cameraName:Camera for ${name}:name:`,
  drop: $localize`:@@stage.drop:Remove`,
  composedHere: (title: string) => $localize`:@@stage.composedHere:This tab composes “${title}:title:”`,
  composedLabel: $localize`:@@stage.composedLabel:Composed in this tab`,
  onAirHere: $localize`:@@stage.onAirHere:On air`,
  toItsDesk: $localize`:@@stage.toItsDesk:To its desk`,
  leaveTitle: (title: string) => $localize`:@@stage.leaveTitle:This tab composes “${title}:title:”`,
  leaveOnAir: $localize`:@@stage.leaveOnAir:It is on air. If you go on, its viewers see the standby slate until a desk composes it again.`,
  leaveUnaired: $localize`:@@stage.leaveUnaired:Nothing of it goes out yet. If you go on, its pictures are let go of here.`,
  leaveOtherTab: $localize`:@@stage.leaveOtherTab:Both can go on beside one another, each in a tab of its own.`,
  leaveOpenTab: $localize`:@@stage.leaveOpenTab:Open the other desk in a new tab`,
  leaveStay: $localize`:@@stage.leaveStay:Stay with it`,
  leaveGoOn: $localize`:@@stage.leaveGoOn:Stop composing and go on`,
  leaveSignOut: $localize`:@@stage.leaveSignOut:Stop composing and sign out`,
  dropName: (name: string) => $localize`:@@stage.dropName:Remove ${name}:name:’s picture`,
};

const adjustable: Record<keyof Adjustment, string> = {
  level: $localize`:@@adjust.level:Volume`,
  isMuted: $localize`:@@adjust.muted:Sound off`,
  isHidden: $localize`:@@adjust.hidden:Picture off`,
  zoom: $localize`:@@adjust.zoom:Closer`,
  panX: $localize`:@@adjust.panX:From left to right`,
  panY: $localize`:@@adjust.panY:From top to bottom`,
  mirror: $localize`:@@adjust.mirror:Mirrored`,
  brightness: $localize`:@@adjust.brightness:Brightness`,
  contrast: $localize`:@@adjust.contrast:Contrast`,
  warmth: $localize`:@@adjust.warmth:White balance, from cold to warm`,
};

export const adjustTexts = {
  title: (name: string) => $localize`:@@adjust.title:Adjust ${name}:name:`,
  open: (name: string) => $localize`:@@adjust.open:Adjust ${name}:name:`,
  intro: $localize`:@@adjust.intro:Viewers see and hear it at once.`,
  of: adjustable,
  standsFor: $localize`:@@adjust.standsFor:It shows`,
  ofItsOwn: $localize`:@@adjust.ofItsOwn:a picture of its own, whole and without a name`,
  reset: $localize`:@@adjust.reset:As it comes`,
  ask: {
    audio: $localize`:@@adjust.askAudio:Ask for sound`,
    video: $localize`:@@adjust.askVideo:Ask for picture`,
    screen: $localize`:@@adjust.askScreen:Ask for a screen`,
  },
  asked: {
    audio: $localize`:@@adjust.askedAudio:Asked for sound`,
    video: $localize`:@@adjust.askedVideo:Asked for picture`,
    screen: $localize`:@@adjust.askedScreen:Asked for a screen`,
  },
  asking: $localize`:@@adjust.asking:Only they can do these:`,
  close: $localize`:@@adjust.close:Close`,
};
