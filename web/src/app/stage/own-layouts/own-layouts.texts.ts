import type { SlotKind } from '@juncta/core/stage';

export const ownLayoutTexts = {
  key: $localize`:@@ownLayout.key:Own…`,
  keyText: $localize`:@@ownLayout.keyText:Make a layout of your own, on what comes next`,
  title: $localize`:@@ownLayout.title:A layout of your own`,
  intro: $localize`:@@ownLayout.intro:Drag the places in the small picture; arrows move the one you chose, Shift and arrows size it. Alt lets it go past the lines. Viewers see nothing of it until it is taken.`,
  nobody: $localize`:@@ownLayout.nobody:Bring on whoever is to have a place, then make the layout from how they stand.`,
  begin: $localize`:@@ownLayout.begin:From how everybody stands`,
  place: $localize`:@@ownLayout.place:Place`,
  placeOf: (number: number, who: string | null) =>
    who === null
      ? $localize`:@@ownLayout.placeFree:${number}:number: (free)`
      : $localize`:@@ownLayout.placeOf:${number}:number: ${who}:who:`,
  boxOf: (words: string, [left, top, width, height]: readonly number[]) =>
    $localize`:@@ownLayout.boxOf:Place ${words}:words:: ${left}:left: % from the left, ${top}:top: % from the top, ${width}:width: % wide, ${height}:height: % high`,
  of: {
    x: $localize`:@@ownLayout.left:Left, %`,
    y: $localize`:@@ownLayout.top:Top, %`,
    width: $localize`:@@ownLayout.width:Width, %`,
    height: $localize`:@@ownLayout.height:Height, %`,
  },
  kind: $localize`:@@ownLayout.kind:Made for`,
  kinds: {
    person: $localize`:@@ownLayout.person:somebody`,
    screen: $localize`:@@ownLayout.screen:a screen`,
  } satisfies Record<SlotKind, string>,
  keep: $localize`:@@ownLayout.keep:Keep`,
  name: $localize`:@@ownLayout.name:Name`,
  noName: $localize`:@@ownLayout.noName:Give it a name first: it stands on its key.`,
  for: $localize`:@@ownLayout.for:For`,
  allShows: $localize`:@@ownLayout.allShows:all shows`,
  keepIt: $localize`:@@ownLayout.keepIt:Keep this layout`,
  isKept: (name: string) =>
    $localize`:@@ownLayout.isKept:${name}:name: is kept, and has a key beside the other layouts.`,
  kept: $localize`:@@ownLayout.kept:Kept`,
  none: $localize`:@@ownLayout.none:None yet.`,
  drop: $localize`:@@ownLayout.drop:Remove`,
  dropArmed: $localize`:@@ownLayout.dropArmed:Remove it for good`,
  dropOf: (name: string) => $localize`:@@ownLayout.dropOf:Remove ${name}:name:`,
  close: $localize`:@@ownLayout.close:Close`,
};
