import type {
  CallProblem,
  IngestFinding,
  IngestFindingCode,
  IngestLevel,
  InputState,
  OnArrival,
  SecondSender,
  Transport,
} from '@juncta/core/ingest';

/** Texts of this part, marked for Angular's own translation. */
const H264 = 'H.264';
const codecs: Record<string, string> = {
  h264: H264,
  h265: 'H.265',
  av1: 'AV1',
  vp9: 'VP9',
  aac: 'AAC',
  mp3: 'MP3',
  opus: 'Opus',
};
const codec = (name: IngestFinding['has']): string =>
  codecs[String(name)] ?? $localize`:@@ingest.unknownCodec:a codec that is not known here`;

export const ingestTexts = {
  title: $localize`:@@ingest.title:Outside pictures`,
  intro: $localize`:@@ingest.intro:A picture that is made elsewhere, by an encoder or a meeting program, comes in here by RTMP or SRT. It is seen here first; viewers get it when somebody takes it.`,
  none: $localize`:@@ingest.none:This show has no input yet. An input is an address and a key that an encoder sends to.`,
  add: $localize`:@@ingest.add:Add an input`,
  firstName: $localize`:@@ingest.firstName:Encoder`,
  nameOf: (n: number) => $localize`:@@ingest.nameOf:Encoder ${n}:n:`,
  reading: $localize`:@@ingest.reading:Reading the inputs…`,
  gone: $localize`:@@ingest.gone:There is no such show. It may have been removed, or the link is incomplete.`,
  desk: $localize`:@@ingest.desk:The desk makes the programme.`,
  isProgramme: (name: string) => $localize`:@@ingest.isProgramme:The programme comes from “${name}:name:”.`,
  comesOn: (name: string) => $localize`:@@ingest.comesOn:“${name}:name:” comes on at its next keyframe.`,
  toDesk: $localize`:@@ingest.toDesk:Back to the desk`,
  toDeskText: $localize`:@@ingest.toDeskText:The desk makes the programme again. Where no desk composes, viewers see the standby slate.`,
  fromOutside: (name: string) =>
    $localize`:@@ingest.fromOutside:Viewers get “${name}:name:”, and not what the desk composes.`,
  programmePicture: $localize`:@@ingest.programmePicture:The programme, from outside`,
  takeNamed: (name: string) => $localize`:@@ingest.takeNamed:Take “${name}:name:”`,
  toStageNamed: (name: string) => $localize`:@@ingest.toStageNamed:“${name}:name:” to the stage`,
  toStageText: $localize`:@@ingest.toStageText:A source like a camera: it waits in the wings, and is laid out and dressed with everybody else.`,
  toDeskPage: $localize`:@@ingest.toDeskPage:To the desk`,
  toCard: $localize`:@@ingest.toCard:Outside pictures`,
  name: $localize`:@@ingest.name:Name`,
  address: $localize`:@@ingest.address:Address`,
  secureAddress: $localize`:@@ingest.secureAddress:Address, encrypted`,
  key: $localize`:@@ingest.key:Stream key`,
  hidden: '••••••••••••••••••••••••',
  show: $localize`:@@ingest.show:Show`,
  hide: $localize`:@@ingest.hide:Hide`,
  copyAddress: $localize`:@@ingest.copyAddress:Copy address`,
  copySecureAddress: $localize`:@@ingest.copySecureAddress:Copy encrypted address`,
  copyKey: $localize`:@@ingest.copyKey:Copy key`,
  copied: $localize`:@@ingest.copied:Copied`,
  passphrase: $localize`:@@ingest.passphrase:Passphrase`,
  copyPassphrase: $localize`:@@ingest.copyPassphrase:Copy passphrase`,
  renew: $localize`:@@ingest.renew:New key`,
  renewArmed: $localize`:@@ingest.renewArmed:New key, cut off the old one`,
  renewPassphrase: $localize`:@@ingest.renewPassphrase:New passphrase`,
  renewPassphraseArmed: $localize`:@@ingest.renewPassphraseArmed:New passphrase, cut off the old one`,
  remove: $localize`:@@ingest.remove:Remove`,
  removeArmed: $localize`:@@ingest.removeArmed:Remove it now`,
  take: $localize`:@@ingest.take:Take as programme`,
  takeText: $localize`:@@ingest.takeText:Viewers get it from its next keyframe on.`,
  waitsForMore: $localize`:@@ingest.waitsForMore:Looking at what comes…`,
  still: (name: string) => $localize`:@@ingest.still:What comes from ${name}:name:`,
  noStill: $localize`:@@ingest.noStill:No picture`,
  setUp: $localize`:@@ingest.setUp:How it is set up`,
  steps: {
    rtmp: [
      $localize`:@@ingest.step1:In the encoder or meeting program, look for the place where a stream to an address of your own is set up. It is often called “custom RTMP”.`,
      $localize`:@@ingest.step2:Copy the address into its field for the server or URL, and the key into its field for the stream key. Where there is one field only, write the address, a slash and the key.`,
      $localize`:@@ingest.step3:Choose H.264 for the video and AAC for the audio, a keyframe every 2 seconds, and the size and rate of this show. What differs is made to fit here, which takes some of this machine.`,
      $localize`:@@ingest.step4:Start it. The light of this card says when it is here.`,
    ],
    srt: [
      $localize`:@@ingest.srtStep1:In the encoder, choose SRT, and that it calls: its mode is “caller”. It is for lines that lose packets, which are asked for again.`,
      $localize`:@@ingest.srtStep2:Copy the address, or its host and its port, and the passphrase, which encrypts what is sent. A stream id is not needed.`,
      $localize`:@@ingest.srtStep3:Choose AAC for the audio, and for the video H.264 where it can be chosen, with a keyframe every 2 seconds. Other video is made H.264 here, which takes about a core of this machine.`,
      $localize`:@@ingest.step4:Start it. The light of this card says when it is here.`,
    ],
    srt_called: [
      $localize`:@@ingest.calledStep1:In the encoder, choose SRT, and that it listens: its mode is “listener”. This way round it needs an address that is reached from here.`,
      $localize`:@@ingest.calledStep2:Write its address and port into the settings of this card, and its passphrase and stream id where it has them.`,
      $localize`:@@ingest.srtStep3:Choose AAC for the audio, and for the video H.264 where it can be chosen, with a keyframe every 2 seconds. Other video is made H.264 here, which takes about a core of this machine.`,
      $localize`:@@ingest.calledStep4:Start it. It is called until it answers; the light of this card says when it is here.`,
    ],
  } satisfies Record<Transport, readonly string[]>,
  settings: $localize`:@@ingest.settings:Settings`,
  second: $localize`:@@ingest.second:When a second encoder comes with the key`,
  secondIs: {
    refused: $localize`:@@ingest.secondRefused:it is refused`,
    takes_over: $localize`:@@ingest.secondTakesOver:it takes over`,
  } satisfies Record<SecondSender, string>,
  transport: $localize`:@@ingest.transport:How it comes`,
  transportIs: {
    rtmp: $localize`:@@ingest.byRtmp:by RTMP`,
    srt: $localize`:@@ingest.bySrt:by SRT`,
    srt_called: $localize`:@@ingest.bySrtCalled:by SRT, called from here`,
  } satisfies Record<Transport, string>,
  calledAddress: $localize`:@@ingest.calledAddress:Where the encoder listens`,
  streamId: $localize`:@@ingest.streamId:Stream id, if it wants one`,
  calledPassphrase: $localize`:@@ingest.calledPassphrase:Passphrase, if it has one`,
  callIt: $localize`:@@ingest.callIt:Call it`,
  isStanding: $localize`:@@ingest.isStanding:It stays with the team`,
  isStandingText: $localize`:@@ingest.isStandingText:Then an encoder is set up once: the address and the key go from show to show.`,
  letGo: $localize`:@@ingest.letGo:Book it to no show`,
  standing: $localize`:@@ingest.standing:The team’s own inputs`,
  standingText: $localize`:@@ingest.standingText:An encoder that is set up for one of them comes to whichever show it is booked to.`,
  bookedTo: (title: string) => $localize`:@@ingest.bookedTo:booked to “${title}:title:”`,
  bookedToNone: $localize`:@@ingest.bookedToNone:booked to no show`,
  bookNamed: (name: string) => $localize`:@@ingest.bookNamed:Book “${name}:name:” here`,
  bookFrom: (title: string) => $localize`:@@ingest.bookFrom:Take it from “${title}:title:”`,
  onArrival: $localize`:@@ingest.onArrival:When it arrives`,
  onArrivalIs: {
    waits: $localize`:@@ingest.arrivalWaits:it waits in preview until it is taken`,
    joins_stage: $localize`:@@ingest.arrivalStage:it is a source on the stage`,
    test_only: $localize`:@@ingest.arrivalTest:it is only looked at: no viewer ever gets it`,
    is_taken: $localize`:@@ingest.arrivalTaken:it becomes the programme`,
  } satisfies Record<OnArrival, string>,
  tryIt: $localize`:@@ingest.tryIt:To try it without an encoder:`,
  standIns: {
    encoder: $localize`:@@ingest.standInEncoder:Stand-in encoder`,
    meeting: $localize`:@@ingest.standInMeeting:Stand-in meeting`,
  },
  standInOff: $localize`:@@ingest.standInOff:Switch it off`,
  onStage: $localize`:@@ingest.onStage:Here, on the stage`,
  forTests: $localize`:@@ingest.forTests:For tests only: it reaches no viewer.`,
  plain: $localize`:@@ingest.plain:It came unencrypted: whoever is on the way could read it.`,
  knocked: $localize`:@@ingest.knocked:Somebody came with another key. Copy the key anew.`,
};

export const stateTexts: Record<InputState, string> = {
  nothing: $localize`:@@ingest.stateNothing:Nothing has come`,
  knocking: $localize`:@@ingest.stateKnocking:Wrong key`,
  in_preview: $localize`:@@ingest.statePreview:Here, in preview`,
  as_programme: $localize`:@@ingest.stateProgramme:Is the programme`,
};

/** Why an encoder that is called does not come. */
export const callTexts: Record<CallProblem, string> = {
  not_found: $localize`:@@ingest.callNotFound:No machine has this name. Look at the address.`,
  not_allowed: $localize`:@@ingest.callNotAllowed:This address lies within the house’s own network, where nothing is called.`,
  no_answer: $localize`:@@ingest.callNoAnswer:It is called, and nobody answers. Does the encoder listen, and is its port open to the outside?`,
  wrong_passphrase: $localize`:@@ingest.callPassphrase:It answers, and wants another passphrase.`,
  refused: $localize`:@@ingest.callRefused:It answers, and refuses the call. Perhaps it wants a stream id, or somebody else has it.`,
};

export const levelTexts: Record<IngestLevel, string> = {
  block: $localize`:@@ingest.levelBlock:Cannot be shown`,
  warning: $localize`:@@ingest.levelWarning:Look at this`,
  converted: $localize`:@@ingest.levelConverted:Made to fit`,
  note: $localize`:@@ingest.levelNote:Know`,
};

/** Each finding as a colleague would tell it. */
export const findingTexts: Record<IngestFindingCode, (finding: IngestFinding) => string> = {
  no_video: () =>
    $localize`:@@ingest.noVideo:No video at all. Look whether the encoder has a scene that shows something.`,
  codec_not_taken: ({ has }) =>
    $localize`:@@ingest.codecNotTaken:The video is ${codec(has)}:has:. Set the encoder to H.264: that is what all places take.`,
  unreadable: () =>
    $localize`:@@ingest.unreadable:What the encoder says of its video cannot be read. Stop it and start it again; if that does not help, try another profile of H.264.`,
  codec_made: ({ has }) =>
    $localize`:@@ingest.codecMade:It comes as ${codec(has)}:has: and is made H.264 where it comes in.`,
  no_keyframe: ({ has, wants }) =>
    $localize`:@@ingest.noKeyframe:No keyframe for ${has}:has: s, so nobody can begin to watch. Set one every ${wants}:wants: s.`,
  keyframes_far: ({ has, wants }) =>
    $localize`:@@ingest.keyframesFar:A keyframe every ${has}:has: s: places would be slow to begin. They are set every ${wants}:wants: s here.`,
  interlaced: () => $localize`:@@ingest.interlaced:The video is interlaced. It is made progressive.`,
  colour: ({ has, wants }) =>
    $localize`:@@ingest.colour:The colour is ${has}:has:, and places take ${wants}:wants:.`,
  size: ({ has, wants }) => $localize`:@@ingest.size:${has}:has: pixels: it is shown at ${wants}:wants:.`,
  rate_high: ({ has, wants }) =>
    $localize`:@@ingest.rateHigh:${has}:has: frames a second: it is shown at ${wants}:wants:.`,
  rate_low: ({ has }) =>
    $localize`:@@ingest.rateLow:Only ${has}:has: frames a second: movement is seen to stutter.`,
  rate_varies: ({ wants }) =>
    $localize`:@@ingest.rateVaries:Its frames come unevenly: it is shown at an even ${wants}:wants: a second.`,
  reordered: () =>
    $localize`:@@ingest.reordered:It has B-frames, which delay it. They are taken out here; better turn them off in the encoder.`,
  too_much: ({ has, wants }) =>
    $localize`:@@ingest.tooMuch:${has}:has: kbit/s, and the strictest place takes ${wants}:wants: of video.`,
  too_little: ({ has }) =>
    $localize`:@@ingest.tooLittle:Only ${has}:has: kbit/s of video: fine detail is lost.`,
  no_audio: () => $localize`:@@ingest.noAudio:No sound at all.`,
  silent: () => $localize`:@@ingest.silent:There is a sound track, and nothing to be heard in it.`,
  audio_codec: ({ has }) => $localize`:@@ingest.audioCodec:The sound is ${codec(has)}:has:. It is made AAC.`,
  audio_rate: ({ has, wants }) =>
    $localize`:@@ingest.audioRate:Sound of ${Number(has) / 1000}:has: kHz: it is made ${Number(wants) / 1000}:wants: kHz.`,
  audio_channels: ({ has }) =>
    Number(has) === 1
      ? $localize`:@@ingest.mono:The sound is mono: it is heard from both sides.`
      : $localize`:@@ingest.channels:Sound of ${has}:has: channels: it is made stereo.`,
  late: ({ has }) =>
    $localize`:@@ingest.late:Frames come up to ${Number(has) / 1000}:has: s late: the line is unsteady. SRT mends more than RTMP does.`,
  gaps: ({ has }) =>
    Number(has) === 1
      ? $localize`:@@ingest.gapOnce:Nothing came for half a second once in the last minute. Look at the line.`
      : $localize`:@@ingest.gaps:Nothing came for half a second ${has}:has: times in the last minute. Look at the line.`,
  clock_jumps: ({ has }) =>
    Number(has) === 1
      ? $localize`:@@ingest.jumpOnce:The encoder’s clock jumped once. It goes on from where it was.`
      : $localize`:@@ingest.jumps:The encoder’s clock jumped ${has}:has: times. It goes on from where it was.`,
};

/** What comes, in one line: `H.264, 1280x720, 30 frames a second, 2.5 Mbit/s`. */
export const figureTexts = {
  video: (name: string, size: string | null, rate: number | null, kbps: number) =>
    [
      codec(name),
      size,
      rate === null ? null : $localize`:@@ingest.rate:${Math.round(rate * 10) / 10}:rate: frames a second`,
      mbits(kbps),
    ]
      .filter((one) => one !== null)
      .join(', '),
  audio: (name: string, rateHz: number | null, channels: number | null, kbps: number) =>
    [
      codec(name),
      rateHz === null ? null : `${rateHz / 1000} kHz`,
      channels === 1
        ? $localize`:@@ingest.isMono:mono`
        : channels === 2
          ? $localize`:@@ingest.isStereo:stereo`
          : null,
      `${kbps} kbit/s`,
    ]
      .filter((one) => one !== null)
      .join(', '),
  late: (ms: number) => $localize`:@@ingest.isLate:frames up to ${ms}:ms: ms late`,
  cores: (cores: number) =>
    $localize`:@@ingest.cores:Making it fit takes about ${cores.toFixed(1)}:cores: of this machine’s cores while it is the programme.`,
  keyframe: (s: number) => $localize`:@@ingest.keyframe:a keyframe every ${s}:s: s`,
  copied: $localize`:@@ingest.isCopied:It fits: its frames are passed on as they are.`,
  converted: $localize`:@@ingest.isConverted:It is made to fit here.`,
  audioConverted: $localize`:@@ingest.audioConverted:Its video fits and is passed on as it is; its sound is made to fit.`,
};
const mbits = (kbps: number): string => `${(kbps / 1000).toFixed(1)} Mbit/s`;
