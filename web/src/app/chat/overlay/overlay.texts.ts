import type { Unheard } from '@juncta/core/chat';

export const overlayTexts = {
  title: $localize`:@@overlay.title:Overlay page`,
  intro: $localize`:@@overlay.intro:Viewers’ messages with nothing behind them, at an address that stays the same from show to show. An outside encoder lays it over its picture; a second screen shows it.`,
  none: $localize`:@@overlay.none:There is no such page yet.`,
  make: $localize`:@@overlay.make:Make the page`,
  address: $localize`:@@overlay.address:Address`,
  addressText: $localize`:@@overlay.addressText:Whoever has it sees what viewers see, and nothing else. The part after # is its key.`,
  copy: $localize`:@@overlay.copy:Copy the address`,
  copied: $localize`:@@overlay.copied:Copied`,
  openIt: $localize`:@@overlay.openIt:Open it`,
  renew: $localize`:@@overlay.renew:Renew the address`,
  renewArmed: $localize`:@@overlay.renewArmed:Renew: the old one goes dark`,
  drop: $localize`:@@overlay.drop:Remove the page`,
  dropArmed: $localize`:@@overlay.dropArmed:Remove it for good`,
  now: $localize`:@@overlay.now:Now`,
  noShow: $localize`:@@overlay.noShow:No show is on or planned: the page is empty.`,
  showOn: (title: string) => $localize`:@@overlay.showOn:On air: ${title}:title:`,
  showNext: (title: string) => $localize`:@@overlay.showNext:Comes next: ${title}:title:`,
  open: (count: number) =>
    count === 0
      ? $localize`:@@overlay.openNowhere:It is open nowhere. Give the address to the encoder as a web page, 1920 by 1080 or as large as its picture.`
      : count === 1
        ? $localize`:@@overlay.openOnce:It is open at one place.`
        : $localize`:@@overlay.openAt:It is open at ${count}:count: places.`,
  delay: (ms: number | null) =>
    ms === null
      ? $localize`:@@overlay.noDelay:Its delay is measured with the next message.`
      : $localize`:@@overlay.delay:A message is on it ${(ms / 1000).toFixed(1)}:seconds: s after the house has it (beyond the time chosen below).`,
  allHeard: $localize`:@@overlay.allHeard:Nothing is missing: viewers are heard at every destination.`,
  noDestinations: $localize`:@@overlay.noDestinations:This show goes nowhere yet: nobody can write.`,
  missing: $localize`:@@overlay.missing:What is missing`,
  why: {
    no_chat: (name: string) => $localize`:@@overlay.whyNoChat:${name}:name: has no chat that we can read.`,
    chat_off: (name: string) =>
      $localize`:@@overlay.whyOff:${name}:name: has the chat of this listing off. Switch it on in its settings.`,
    refused: (name: string) =>
      $localize`:@@overlay.whyRefused:${name}:name: does not let us read its chat. A producer has to connect it again.`,
    lost: (name: string) =>
      $localize`:@@overlay.whyLost:The line to the chat of ${name}:name: is lost and is being made again.`,
    connecting: (name: string) =>
      $localize`:@@overlay.whyConnecting:The line to the chat of ${name}:name: is being made.`,
    closed: (name: string) =>
      $localize`:@@overlay.whyClosed:The chat of ${name}:name: is not open. It opens with the feed.`,
    not_public: (name: string) =>
      $localize`:@@overlay.whyNotPublic:The listing at ${name}:name: is not public: only whoever was invited can write.`,
  } satisfies Record<Unheard, (name: string) => string>,
  look: $localize`:@@overlay.look:Look`,
  lookText: $localize`:@@overlay.lookText:What you change is seen at once wherever the page is open. Colours and type are those of the show’s dressing.`,
  card: $localize`:@@overlay.card:The message that is put on the programme too`,
  sample: $localize`:@@overlay.sample:Show samples for a minute`,
  sampled: $localize`:@@overlay.sampled:The page shows samples for a minute.`,
  preview: $localize`:@@overlay.preview:What the page shows, over a made-up picture`,
  samples: [
    {
      author: $localize`:@@overlay.sampleAuthor:Ottoline Fen`,
      place: 'Kitefield',
      text: $localize`:@@overlay.sampleText:How warm is the oven at the start?`,
    },
    {
      author: $localize`:@@overlay.sampleAuthor2:Benedikt`,
      place: 'Guildroad',
      text: $localize`:@@overlay.sampleText2:Mine never rises in winter. Do you let it stand longer, or warmer?`,
    },
  ],
};
