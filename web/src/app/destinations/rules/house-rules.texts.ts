import type { Correctable } from '@juncta/core/destinations';

/** Texts of this part, marked for Angular's own translation. */
export const correctableTexts: Record<Correctable, string> = {
  title: $localize`:@@rule.title:longest title`,
  description: $localize`:@@rule.description:longest description`,
  hashtags: $localize`:@@rule.hashtags:most hashtags`,
  book_least_minutes: $localize`:@@rule.least:latest booking, min before`,
  book_most_minutes: $localize`:@@rule.most:earliest booking, min before`,
  lapse_minutes: $localize`:@@rule.lapse:expires, min after`,
  longest_minutes: $localize`:@@rule.longest:longest show, min`,
};

export const houseRulesTexts = {
  title: $localize`:@@rules.title:House rules`,
  intro: $localize`:@@rules.intro:What each place allows, as we know it. Everything that is planned is checked by these; correct a figure when a place changes it.`,
  caption: $localize`:@@rules.caption:House rules of each place`,
  placeAndSince: $localize`:@@rules.placeAndSince:Place; since when, and from where`,
  none: $localize`:@@rules.none:—`,
  noRule: $localize`:@@rules.noRule:no such rule`,
  correctOf: (rule: string, place: string, figure: number) =>
    $localize`:@@rules.correctOf:${figure}:figure:: correct ${rule}:rule: of ${place}:place:`,
  figure: $localize`:@@rules.figure:Corrected figure`,
  source: $localize`:@@rules.source:Where it is from`,
  correct: $localize`:@@rules.correct:Correct`,
  leave: $localize`:@@rules.leave:Leave it`,
  alarm: (place: string, rule: string, ours: number, theirs: number, when: string) =>
    $localize`:@@rules.alarm:${place}:place: refused a listing on ${when}:when:: its ${rule}:rule: is ${theirs}:theirs:, and we have ${ours}:ours:.`,
  looking: $localize`:@@rules.looking:Looking at what is planned`,
  touchesNone: (figure: number) =>
    $localize`:@@rules.touchesNone:At ${figure}:figure:, nothing more that is planned is held up.`,
  touches: (figure: number, shows: number, unnamed: number) =>
    (shows === 1
      ? $localize`:@@rules.touchesOne:At ${figure}:figure:, one planned show more is held up:`
      : $localize`:@@rules.touches:At ${figure}:figure:, ${shows}:shows: planned shows more are held up:`) +
    (unnamed === 0 ? '' : ' ' + $localize`:@@rules.touchesMore:(${unnamed}:unnamed: of them not named here)`),
  takeOver: (figure: number) => $localize`:@@rules.takeOver:Take over ${figure}:figure:`,
  dismiss: $localize`:@@rules.dismiss:It was a slip`,
  byRefusal: (place: string, day: string) =>
    $localize`:@@rules.byRefusal:a refusal by ${place}:place: on ${day}:day:`,
  corrections: $localize`:@@rules.corrections:What was corrected`,
  correction: (rule: string, was: number, is: number, since: string, source: string, by: string) =>
    $localize`:@@rules.correction:${since}:since:: ${rule}:rule: from ${was}:was: to ${is}:is:, by ${by}:by:; source: ${source}:source:.`,
};
