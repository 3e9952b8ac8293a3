import type { Listing } from '@juncta/contract/listings';
import type { Placeholder, SettingId, SettingOrigin } from '@juncta/core/listings';

/** Texts of this part, marked for Angular's own translation. */
export const listingStates: Record<Listing['state'], string> = {
  draft: $localize`:@@listing.draft:Draft`,
  booked: $localize`:@@listing.booked:Booked`,
  open: $localize`:@@listing.open:Open`,
  ending: $localize`:@@listing.ending:Ending`,
  closed: $localize`:@@listing.closed:Closed`,
  lapsed: $localize`:@@listing.lapsed:Lapsed`,
};

/** What a setting is called, and what it does. */
export const settingTexts: Record<SettingId, { name: string; does: string }> = {
  visibility: {
    name: $localize`:@@set.visibility:Visibility`,
    does: $localize`:@@set.visibility.does:Who can see it there.`,
  },
  audience: {
    name: $localize`:@@set.audience:Audience`,
    does: $localize`:@@set.audience.does:Whom it is made for; some places show nothing without it.`,
  },
  age: {
    name: $localize`:@@set.age:Minimum age`,
    does: $localize`:@@set.age.does:Younger viewers are not let in.`,
  },
  category: {
    name: $localize`:@@set.category:Category`,
    does: $localize`:@@set.category.does:Where the place lists it.`,
  },
  language: {
    name: $localize`:@@set.language:Language`,
    does: $localize`:@@set.language.does:What is spoken, as a language tag such as en or de.`,
  },
  topics: {
    name: $localize`:@@set.topics:Topics`,
    does: $localize`:@@set.topics.does:Words by which it is found.`,
  },
  latency: {
    name: $localize`:@@set.latency:Latency`,
    does: $localize`:@@set.latency.does:How far viewers are behind: the shorter, the easier to talk.`,
  },
  rewind: {
    name: $localize`:@@set.rewind:Rewind`,
    does: $localize`:@@set.rewind.does:Viewers can go back while it is on.`,
  },
  starts_on_arrival: {
    name: $localize`:@@set.startsOnArrival:Starts on arrival`,
    does: $localize`:@@set.startsOnArrival.does:Public with the first picture, without publishing.`,
  },
  ends_with_feed: {
    name: $localize`:@@set.endsWithFeed:Ends with the feed`,
    does: $localize`:@@set.endsWithFeed.does:An orderly end of the feed ends the event.`,
  },
  spherical: {
    name: $localize`:@@set.spherical:Spherical picture`,
    does: $localize`:@@set.spherical.does:For a camera that looks all around.`,
  },
  captions: {
    name: $localize`:@@set.captions:Captions`,
    does: $localize`:@@set.captions.does:What is said, written beneath the picture.`,
  },
  chat: { name: $localize`:@@set.chat:Chat`, does: $localize`:@@set.chat.does:Viewers can write.` },
  chat_replay: {
    name: $localize`:@@set.chatReplay:Chat replay`,
    does: $localize`:@@set.chatReplay.does:Later viewers see what was written, when it was written.`,
  },
  comment_rules: {
    name: $localize`:@@set.commentRules:Who may comment`,
    does: $localize`:@@set.commentRules.does:Keeps out whoever only passes by.`,
  },
  comment_order: {
    name: $localize`:@@set.commentOrder:Order of comments`,
    does: $localize`:@@set.commentOrder.does:What viewers see first.`,
  },
  archive_visibility: {
    name: $localize`:@@set.archiveVisibility:Recording seen by`,
    does: $localize`:@@set.archiveVisibility.does:Who sees it afterwards.`,
  },
  licence: {
    name: $localize`:@@set.licence:Licence`,
    does: $localize`:@@set.licence.does:What others may do with it.`,
  },
  embedding: {
    name: $localize`:@@set.embedding:Embedding`,
    does: $localize`:@@set.embedding.does:Other sites can show it.`,
  },
  syndication: {
    name: $localize`:@@set.syndication:Syndication`,
    does: $localize`:@@set.syndication.does:The place passes it on to its partners.`,
  },
  collection: {
    name: $localize`:@@set.collection:Collection`,
    does: $localize`:@@set.collection.does:The series over there that it joins.`,
  },
  onward_link: {
    name: $localize`:@@set.onwardLink:Onward link`,
    does: $localize`:@@set.onwardLink.does:Where viewers are sent when it ends.`,
  },
  earning: {
    name: $localize`:@@set.earning:Monetisation`,
    does: $localize`:@@set.earning.does:The place sells time around it, and shares.`,
  },
  products: {
    name: $localize`:@@set.products:Products`,
    does: $localize`:@@set.products.does:Addresses of what is offered beside it.`,
  },
  fundraising_link: {
    name: $localize`:@@set.fundraising:Fundraising link`,
    does: $localize`:@@set.fundraising.does:Where viewers can give.`,
  },
  sponsored: {
    name: $localize`:@@set.sponsored:Sponsored`,
    does: $localize`:@@set.sponsored.does:Somebody paid for it. The law asks that it is said.`,
  },
  disclosure: {
    name: $localize`:@@set.disclosure:Disclosure`,
    does: $localize`:@@set.disclosure.does:Who paid, in a sentence that viewers see.`,
  },
  public_figures: {
    name: $localize`:@@set.publicFigures:Public figures`,
    does: $localize`:@@set.publicFigures.does:Known people who are in it.`,
  },
  location: {
    name: $localize`:@@set.location:Location`,
    does: $localize`:@@set.location.does:Where it is made.`,
  },
  geo_allow: {
    name: $localize`:@@set.geoAllow:Only in`,
    does: $localize`:@@set.geoAllow.does:Two-letter countries; elsewhere nobody sees it.`,
  },
  geo_deny: {
    name: $localize`:@@set.geoDeny:Not in`,
    does: $localize`:@@set.geoDeny.does:Two-letter countries that do not see it.`,
  },
  targeting: {
    name: $localize`:@@set.targeting:Targeting`,
    does: $localize`:@@set.targeting.does:Whom the place shows it first.`,
  },
  cross_posting: {
    name: $localize`:@@set.crossPosting:Also posted to`,
    does: $localize`:@@set.crossPosting.does:Other pages of this place.`,
  },
  community: {
    name: $localize`:@@set.community:Community`,
    does: $localize`:@@set.community.does:The community it is promoted in.`,
  },
  speakers: {
    name: $localize`:@@set.speakers:Speakers`,
    does: $localize`:@@set.speakers.does:Who is announced.`,
  },
  organiser: {
    name: $localize`:@@set.organiser:Organiser`,
    does: $localize`:@@set.organiser.does:Who invites.`,
  },
  co_hosts: {
    name: $localize`:@@set.coHosts:Co-hosts`,
    does: $localize`:@@set.coHosts.does:Whose pages show it as theirs, too.`,
  },
};

export const fieldTexts: Record<'title' | 'description' | 'slot' | 'picture' | 'start', string> = {
  title: $localize`:@@field.title:title`,
  description: $localize`:@@field.description:description`,
  slot: $localize`:@@field.slot:slot`,
  picture: $localize`:@@field.picture:picture`,
  start: $localize`:@@field.start:start`,
};

/** A field or a setting, within a sentence. */
export function fieldName(field: string): string {
  if (field in fieldTexts) return fieldTexts[field as keyof typeof fieldTexts];
  return field in settingTexts ? settingTexts[field as SettingId].name : field;
}

export const placeholderTexts: Record<Placeholder, string> = {
  guests: $localize`:@@placeholder.guests:the guests’ names`,
  date: $localize`:@@placeholder.date:the day, in the show’s zone`,
  time: $localize`:@@placeholder.time:the time, in the show’s zone`,
  zone: $localize`:@@placeholder.zone:the zone’s city`,
  series: $localize`:@@placeholder.series:the series`,
  link: $localize`:@@placeholder.link:the evergreen link of the series`,
  disclosure: $localize`:@@placeholder.disclosure:the disclosure`,
};

export const originTexts: Record<SettingOrigin, string> = {
  own: $localize`:@@origin.own:set here`,
  show: $localize`:@@origin.show:shared by all`,
  house: $localize`:@@origin.house:house default`,
  place: $localize`:@@origin.place:the place’s default`,
};

export const listingTexts = {
  title: $localize`:@@listings.title:Listings and slots`,
  toPlan: $localize`:@@listings.toPlan:Plan`,
  toLaunch: $localize`:@@listings.toLaunch:Launch sheet`,
  reading: $localize`:@@listings.reading:Reading …`,
  gone: $localize`:@@listings.gone:There is no such show.`,
  none: $localize`:@@listings.none:This show goes nowhere yet. Choose its destinations in the plan.`,
  caption: $localize`:@@listings.caption:How the show is presented at each destination`,
  place: $localize`:@@listings.place:Destination`,
  itsTitle: $localize`:@@listings.itsTitle:Title there`,
  slot: $localize`:@@listings.slot:Slot`,
  time: $localize`:@@listings.time:Windows`,
  state: $localize`:@@listings.state:State`,
  inherits: $localize`:@@listings.inherits:the show’s`,
  noSlot: $localize`:@@listings.noSlot:no start yet`,
  book: $localize`:@@listings.book:Book`,
  bookAll: $localize`:@@listings.bookAll:Book all`,
  sendAgain: $localize`:@@listings.sendAgain:Send all again`,
  sendAll: $localize`:@@listings.sendAll:Send changes everywhere`,
  bookAgain: $localize`:@@listings.bookAgain:Send changes`,
  bookOf: (name: string) => $localize`:@@listings.bookOf:Book ${name}:name:`,
  sendOf: (name: string) => $localize`:@@listings.sendOf:Send changes to ${name}:name:`,
  editOf: (name: string) => $localize`:@@listings.editOf:Edit the listing at ${name}:name:`,
  opensWithFeed: $localize`:@@listings.opensWithFeed:Not bookable, opens with its feed`,
  howSaved: $localize`:@@listings.howSaved:What you change here is kept at once. A place hears of it only when you book or send.`,
  cancel: $localize`:@@listings.cancel:Cancel booking`,
  cancelArmed: $localize`:@@listings.cancelArmed:Cancel it now`,
  look: $localize`:@@listings.look:Read back`,
  working: $localize`:@@listings.working:working …`,
  notBookable: $localize`:@@listings.notBookable:cannot be booked`,
  allDone: (n: number) => $localize`:@@listings.allDone:Done at ${n}:n: destinations.`,
  someFailed: (done: number, all: number) =>
    $localize`:@@listings.someFailed:Done at ${done}:done: of ${all}:all: destinations. What is missing stands in its row; press again, and only that is tried.`,
  undo: $localize`:@@listings.undo:Undo`,
  fixed: $localize`:@@listings.fixed:Changed.`,
  characters: (count: number, max: number, unit: string) =>
    $localize`:@@listings.characters:${count}:count: of ${max}:max: ${unit}:unit:`,
  count: (count: number) => $localize`:@@listings.count:${count}:count:`,
  over: (n: number) => $localize`:@@listings.over:${n}:n: too long`,
  shorten: $localize`:@@listings.shorten:Shorten at a word’s end`,
  inherit: $localize`:@@listings.inherit:Back to the show’s`,
  description: $localize`:@@listings.description:Description there`,
  lost: (place: string, names: string) =>
    $localize`:@@listings.lost:Laid down for all, and not to be had at ${place}:place:: ${names}:names:.`,
  noDescription: $localize`:@@listings.noDescription:This place shows no description.`,
  placeholders: $localize`:@@listings.placeholders:You can insert: `,
  readsAs: $localize`:@@listings.readsAs:How it will read there`,
  slotWith: $localize`:@@listings.slotWith:With the show`,
  slotOffset: $localize`:@@listings.slotOffset:Minutes from the show’s start`,
  slotFixed: $localize`:@@listings.slotFixed:A time of its own`,
  minutes: $localize`:@@listings.minutes:Minutes`,
  at: $localize`:@@listings.at:Day and time, in your own zone`,
  settings: $localize`:@@listings.settings:Settings there`,
  asInherited: $localize`:@@listings.asInherited:as inherited`,
  on: $localize`:@@listings.on:on`,
  off: $localize`:@@listings.off:off`,
  empty: $localize`:@@listings.empty:nothing`,
  required: $localize`:@@listings.required:needed`,
  byHand: $localize`:@@listings.byHand:set by hand over there`,
  lines: $localize`:@@listings.lines:separated by commas`,
  rulesSince: (since: string, source: string) =>
    $localize`:@@listings.rulesSince:House rules since ${since}:since:: ${source}:source:.`,
  windowOpens: (when: string) => $localize`:@@listings.windowOpens:bookable from ${when}:when:`,
  windowCloses: (when: string) => $localize`:@@listings.windowCloses:to ${when}:when:`,
  slotAt: (when: string) => $localize`:@@listings.slotAt:slot ${when}:when:`,
  lapsesAt: (when: string) => $localize`:@@listings.lapsesAt:expires ${when}:when:`,
  endsAt: (when: string) => $localize`:@@listings.endsAt:ends at the latest ${when}:when:`,
  bookableMark: $localize`:@@listings.bookableMark:can be booked`,
  lapseMark: $localize`:@@listings.lapseMark:expires`,
  nowMark: $localize`:@@listings.now:now`,
  slotMark: $localize`:@@listings.slotMark:slot`,
  lineOf: $localize`:@@listings.lineOf:Left of the slot: days or hours to go. Right of it: the show, and when the place gives up.`,
  page: $localize`:@@listings.page:Page there`,
  copyEmbed: $localize`:@@listings.copyEmbed:Copy embed code`,
  embedCopied: $localize`:@@listings.embedCopied:Copied`,
};

export const houseDefaultsTexts = {
  title: $localize`:@@defaults.title:House defaults`,
  intro: $localize`:@@defaults.intro:What the house wants wherever a place has it. A series can want something else, and a single listing too.`,
  caption: $localize`:@@defaults.caption:What the house wants of each setting`,
  whose: $localize`:@@defaults.whose:For`,
  team: $localize`:@@defaults.team:the whole team`,
  atDesk: $localize`:@@defaults.atDesk:At the desk, min before the start`,
  setting: $localize`:@@defaults.setting:Setting`,
  wanted: $localize`:@@defaults.wanted:Wanted`,
  places: $localize`:@@defaults.places:Places that have it`,
  asPlace: $localize`:@@defaults.asPlace:the place’s default`,
  saved: $localize`:@@defaults.saved:Saved.`,
};

export const pictureTexts = {
  label: $localize`:@@picture.label:Picture`,
  choose: $localize`:@@picture.choose:Choose a file`,
  other: $localize`:@@picture.other:Choose another file`,
  ownHere: $localize`:@@picture.ownHere:Another one here`,
  none: $localize`:@@picture.none:There is none yet. PNG, JPEG or WebP, up to 10 MB.`,
  noneShared: $localize`:@@picture.noneShared:The show has none yet.`,
  inherits: $localize`:@@picture.inherits:the show’s picture`,
  back: $localize`:@@picture.back:Back to the show’s picture`,
  remove: $localize`:@@picture.remove:Take it away`,
  sending: $localize`:@@picture.sending:The file is being sent.`,
  tooHeavy: $localize`:@@picture.tooHeavy:This picture is heavier than 10 MB. Save it smaller and choose it again.`,
  size: (width: number, height: number) =>
    $localize`:@@picture.size:${width}:width: × ${height}:height: pixels`,
  shape: (aspect: string) => $localize`:@@picture.shape:shown here as ${aspect}:aspect:`,
  part: $localize`:@@picture.part:Choose the part that is shown`,
  alt: $localize`:@@picture.alt:What is shown of the picture`,
  across: $localize`:@@picture.across:Left to right`,
  down: $localize`:@@picture.down:Top to bottom`,
  closer: $localize`:@@picture.closer:Closer`,
  middle: $localize`:@@picture.middle:Back to the middle`,
};

export const adoptTexts = {
  look: $localize`:@@adopt.look:Link an existing event`,
  none: $localize`:@@adopt.none:No event waits there that is not one of ours.`,
  noSlot: $localize`:@@adopt.noSlot:without a slot`,
  take: $localize`:@@adopt.take:Take it`,
  takeOf: (title: string) => $localize`:@@adopt.takeOf:Take it: ${title}:title:`,
};

export const sharedTexts = {
  title: $localize`:@@shared.title:All listings share`,
  asPlace: $localize`:@@shared.asPlace:each place’s own`,
  notAt: (having: string, lacking: string) =>
    $localize`:@@shared.notAt:${having}:having:. Not to be had at ${lacking}:lacking:.`,
  houseHas: (value: string) => $localize`:@@shared.houseHas:${value}:value: (house)`,
};
