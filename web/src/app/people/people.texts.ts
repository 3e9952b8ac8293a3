/** Texts of this part, marked for Angular's own translation. */
export const peopleTexts = {
  title: $localize`:@@people.title:People`,
  caption: $localize`:@@people.caption:Who is in this show`,
  name: $localize`:@@people.name:Name`,
  nameOf: (place: number) => $localize`:@@people.nameOf:Name of person ${place}:place:`,
  part: $localize`:@@people.part:Part`,
  partOf: (name: string) => $localize`:@@people.partOf:Part of ${name}:name:`,
  about: $localize`:@@people.about:In a few words`,
  aboutOf: (name: string) => $localize`:@@people.aboutOf:${name}:name: in a few words`,
  order: $localize`:@@people.order:Order`,
  remove: $localize`:@@people.remove:Take off`,
  removeOf: (name: string) => $localize`:@@people.removeOf:Take off ${name}:name:`,
  up: (name: string) => $localize`:@@people.up:Move ${name}:name: up`,
  addMember: $localize`:@@people.addMember:Add from the team`,
  addGuest: $localize`:@@people.addGuest:Add a guest`,
  none: $localize`:@@people.none:Nobody is in this show yet. Add a host first, then the guests.`,
  unnamed: $localize`:@@people.unnamed:this guest`,
};

export const guestLinkTexts = {
  title: $localize`:@@guestLink.title:Guests’ personal links`,
  intro: $localize`:@@guestLink.intro:Each guest comes in by a link of their own, without an account. A new link ends the one before.`,
  none: $localize`:@@guestLink.none:There are no guests in this show.`,
  make: $localize`:@@guestLink.make:Make a link`,
  makeOf: (name: string) => $localize`:@@guestLink.makeOf:Make a link for ${name}:name:`,
  anew: $localize`:@@guestLink.anew:New link`,
  anewOf: (name: string) => $localize`:@@guestLink.anewOf:New link for ${name}:name:`,
  anewArmed: $localize`:@@guestLink.anewArmed:Ends the old one. Press again`,
  revoke: $localize`:@@guestLink.revoke:Revoke`,
  revokeOf: (name: string) => $localize`:@@guestLink.revokeOf:Revoke the link of ${name}:name:`,
  revokeArmed: $localize`:@@guestLink.revokeArmed:Press again to revoke`,
  noLink: $localize`:@@guestLink.noLink:no link yet`,
  unused: (day: string) => $localize`:@@guestLink.unused:good until ${day}:day:, not used yet`,
  used: (when: string, day: string) =>
    $localize`:@@guestLink.used:last used ${when}:when:, good until ${day}:day:`,
  shownOnce: $localize`:@@guestLink.shownOnce:This link is shown once. Copy it now and send it to the guest.`,
  linkOf: (name: string) => $localize`:@@guestLink.linkOf:Link of ${name}:name:`,
  copy: $localize`:@@guestLink.copy:Copy`,
  copied: $localize`:@@guestLink.copied:Copied`,
};

export const guestTexts = {
  coming: $localize`:@@guest.coming:Opening your page`,
  hello: (name: string) => $localize`:@@guest.hello:Hello ${name}:name:`,
  youAreIn: $localize`:@@guest.youAreIn:You are a guest in`,
  withHosts: (names: string) => $localize`:@@guest.withHosts:with ${names}:names:`,
  yourTime: (city: string) => $localize`:@@guest.yourTime:your time, in ${city}:city:`,
  theirTime: (time: string, city: string) =>
    $localize`:@@guest.theirTime:${time}:time: in ${city}:city:, where the show is planned`,
  lasts: (length: string) => $localize`:@@guest.lasts:planned for ${length}:length:`,
  noTime: $localize`:@@guest.noTime:The time is not set yet. This page will show it.`,
  nothingToDo: $localize`:@@guest.nothingToDo:There is nothing to install and nothing to do now. Keep this link, and open it on the day, on the device you will speak from.`,
  notOnAir: $localize`:@@guest.notOnAir:You are not on air. Nobody sees or hears you.`,
  missing: $localize`:@@guest.missing:This address has no personal link in it. Open the link you were sent once more, whole.`,
};
