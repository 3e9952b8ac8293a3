import type { TilePattern } from '@juncta/core/destinations';

/** Texts of this part, marked for Angular's own translation. */
export const patternNames: Record<TilePattern, string> = {
  plain: $localize`:@@pattern.plain:plain`,
  striped: $localize`:@@pattern.striped:striped`,
  barred: $localize`:@@pattern.barred:barred`,
  dotted: $localize`:@@pattern.dotted:dotted`,
  checked: $localize`:@@pattern.checked:checked`,
  banded: $localize`:@@pattern.banded:banded`,
  cornered: $localize`:@@pattern.cornered:cornered`,
  framed: $localize`:@@pattern.framed:framed`,
};

export const destinationTexts = {
  title: $localize`:@@destinations.title:Destinations`,
  caption: $localize`:@@destinations.caption:Places outside that carry our shows`,
  tile: $localize`:@@destinations.tile:Tile`,
  name: $localize`:@@destinations.name:Name`,
  address: $localize`:@@destinations.address:Server address`,
  page: $localize`:@@destinations.page:Public page`,
  actions: $localize`:@@destinations.actions:Actions`,
  none: $localize`:@@destinations.none:There is no destination yet. Add the first one: every place that takes RTMP gives a server address and a stream key.`,
  noPage: $localize`:@@destinations.noPage:none known`,
  remove: $localize`:@@destinations.remove:Remove`,
  removeArmed: $localize`:@@destinations.removeArmed:Remove now`,
  removeOf: (name: string) => $localize`:@@destinations.removeOf:Remove ${name}:name:`,
  addTitle: $localize`:@@destinations.addTitle:Add by address and key`,
  addIntro: $localize`:@@destinations.addIntro:Paste what the place shows. The whole address with the key at its end will do, too.`,
  nameHint: $localize`:@@destinations.nameHint:What the team calls it: the account and where in it.`,
  code: $localize`:@@destinations.code:Two letters`,
  codeHint: $localize`:@@destinations.codeHint:They stand on its tile, everywhere.`,
  pattern: $localize`:@@destinations.pattern:Pattern of the tile`,
  addressHint: $localize`:@@destinations.addressHint:rtmps://… or rtmp://…`,
  key: $localize`:@@destinations.key:Stream key`,
  keyHint: $localize`:@@destinations.keyHint:Kept encrypted, and never shown again.`,
  pageHint: $localize`:@@destinations.pageHint:Where viewers watch, if it is known.`,
  add: $localize`:@@destinations.add:Add`,
  added: (name: string) =>
    $localize`:@@destinations.added:${name}:name: was added. Choose it in a show’s plan.`,
  wrong: $localize`:@@destinations.wrong:Nothing was added yet: look at what is marked.`,
  onlyProducers: $localize`:@@destinations.onlyProducers:Producers add and remove destinations.`,
  ofShow: $localize`:@@destinations.ofShow:Destinations`,
  ofShowNone: $localize`:@@destinations.ofShowNone:No destination is connected yet.`,
  toDestinations: $localize`:@@destinations.toDestinations:To the destinations`,
  saved: $localize`:@@destinations.saved:Saved.`,
};
