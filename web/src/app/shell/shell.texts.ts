/** Texts of this part, marked for Angular's own translation. */
export const titles = {
  signIn: $localize`:@@title.signIn:Sign in`,
  invitation: $localize`:@@title.invitation:Join the team`,
  guest: $localize`:@@title.guest:Your show`,
  pieces: $localize`:@@title.pieces:Pieces of the look`,
  shows: $localize`:@@title.shows:Shows`,
  season: $localize`:@@title.season:Season`,
  newShow: $localize`:@@title.newShow:New show`,
  show: $localize`:@@title.show:Show`,
  listings: $localize`:@@title.listings:Listings and slots`,
  launch: $localize`:@@title.launch:Launch sheet`,
  destinations: $localize`:@@title.destinations:Destinations`,
  rules: $localize`:@@title.rules:Rules`,
  team: $localize`:@@title.team:Team`,
  desk: $localize`:@@title.desk:Desk`,
  nothing: $localize`:@@title.nothing:Nothing here`,
};

export const shellTexts = {
  skip: $localize`:@@shell.skip:Skip to the content`,
  mainNavigation: $localize`:@@shell.mainNavigation:Main`,
  shows: $localize`:@@shell.shows:Shows`,
  season: $localize`:@@shell.season:Season`,
  destinations: $localize`:@@shell.destinations:Destinations`,
  team: $localize`:@@shell.team:Team`,
  signOut: $localize`:@@shell.signOut:Sign out`,
  lost: $localize`:@@shell.lost:The connection is lost. What you see may be old; it comes back by itself.`,
  rehearsal: (rate: number) => $localize`:@@shell.rehearsal:Rehearsal clock, ${rate}:rate: times as fast`,
  rehearsalSet: $localize`:@@shell.rehearsalSet:Rehearsal clock, set by hand`,
  nothingTitle: $localize`:@@shell.nothingTitle:There is nothing at this address`,
  nothingText: $localize`:@@shell.nothingText:It may have been moved, or the link is incomplete.`,
  toShows: $localize`:@@shell.toShows:To the shows`,
};
