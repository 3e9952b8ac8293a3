import type { Backdrop, Bug, Contrast, Manner, Palette } from '@juncta/core/dressing';

/** Texts of this part, marked for Angular's own translation. */
export const dressingTexts = {
  title: $localize`:@@dressing.title:Dressing`,
  intro: $localize`:@@dressing.intro:How programmes look. What you save is seen at once, also by viewers of a show that is on air.`,
  overlayPage: $localize`:@@dressing.overlayPage:Overlay page for outside encoders and second screens`,
  own: (name: string) => $localize`:@@dressing.own:${name}:name: has a dressing of its own.`,
  byTeam: (name: string) =>
    $localize`:@@dressing.byTeam:${name}:name: goes by the one for all shows. Save to give it its own.`,
  colours: $localize`:@@dressing.colours:Colours`,
  colour: {
    ground: $localize`:@@dressing.ground:Ground, behind everybody`,
    relief: $localize`:@@dressing.relief:Relief on the ground`,
    paper: $localize`:@@dressing.paper:Paper, under words`,
    ink: $localize`:@@dressing.ink:Ink, words on paper`,
    accent: $localize`:@@dressing.accent:Accent`,
  } satisfies Record<keyof Palette, string>,
  contrast: ({ of, ratio, least }: Contrast) => {
    const figure = ratio.toFixed(1);
    const pair = contrastNames[`${of[0]} ${of[1]}`] ?? of.join(', ');
    return ratio < least
      ? $localize`:@@dressing.contrastLow:${pair}:pair:: ${figure}:figure: to 1. That is hard to see; ${least}:least: or more is easy.`
      : $localize`:@@dressing.contrastGood:${pair}:pair:: ${figure}:figure: to 1, easy to see.`;
  },
  faces: $localize`:@@dressing.faces:Typefaces`,
  heading: $localize`:@@dressing.heading:Names and headings`,
  text: $localize`:@@dressing.text:Text`,
  ownFace: {
    heading: $localize`:@@dressing.ownHeading:Own one for headings`,
    text: $localize`:@@dressing.ownText:Own one for text`,
  },
  ownFaceText: $localize`:@@dressing.ownFaceText:Own ones are WOFF2 files of up to 2 MB.`,
  manner: $localize`:@@dressing.manner:Names and messages`,
  manners: {
    slab: $localize`:@@dressing.slab:Slab`,
    rail: $localize`:@@dressing.rail:Rail`,
    steps: $localize`:@@dressing.steps:Steps`,
    cut: $localize`:@@dressing.cut:Cut`,
  } satisfies Record<Manner, string>,
  frames: $localize`:@@dressing.frames:Around pictures`,
  space: $localize`:@@dressing.space:Space between`,
  spaces: {
    none: $localize`:@@dressing.spaceNone:none`,
    narrow: $localize`:@@dressing.spaceNarrow:narrow`,
    usual: $localize`:@@dressing.spaceUsual:usual`,
    wide: $localize`:@@dressing.spaceWide:wide`,
  },
  rounding: $localize`:@@dressing.rounding:Corners`,
  roundings: {
    square: $localize`:@@dressing.cornersSquare:square`,
    soft: $localize`:@@dressing.cornersSoft:soft`,
    round: $localize`:@@dressing.cornersRound:round`,
  },
  border: $localize`:@@dressing.border:Line around`,
  borders: {
    none: $localize`:@@dressing.borderNone:none`,
    paper: $localize`:@@dressing.borderPaper:in the colour of the paper`,
    accent: $localize`:@@dressing.borderAccent:in the accent`,
  },
  framesText: $localize`:@@dressing.framesText:Whoever fills the picture has neither corners nor a line.`,
  backdrop: $localize`:@@dressing.backdrop:Behind everybody`,
  backdrops: {
    plain: $localize`:@@dressing.plain:Plain`,
    gradient: $localize`:@@dressing.gradient:Gradient`,
    lines: $localize`:@@dressing.lines:Lines`,
    picture: $localize`:@@dressing.picture:Picture`,
  } satisfies Record<Backdrop, string>,
  bug: $localize`:@@dressing.bug:In a corner`,
  bugText: $localize`:@@dressing.bugText:Words that always stand there`,
  corner: $localize`:@@dressing.corner:Corner`,
  corners: {
    top_left: $localize`:@@dressing.topLeft:upper left`,
    top_right: $localize`:@@dressing.topRight:upper right`,
  } satisfies Record<Bug['corner'], string>,
  choosePicture: $localize`:@@dressing.choosePicture:Choose a picture`,
  otherPicture: $localize`:@@dressing.otherPicture:Choose another picture`,
  noPicture: $localize`:@@dressing.noPicture:No picture yet: the plain ground is seen.`,
  logo: $localize`:@@dressing.logo:Logo`,
  logoText: $localize`:@@dressing.logoText:Stands in the corner in place of the words. PNG or SVG with nothing behind it is best.`,
  chooseLogo: $localize`:@@dressing.chooseLogo:Choose a logo`,
  otherLogo: $localize`:@@dressing.otherLogo:Choose another logo`,
  noLogo: $localize`:@@dressing.noLogo:No logo`,
  file: $localize`:@@dressing.file:As a file`,
  fileText: $localize`:@@dressing.fileText:All of it as it is saved, in one ZIP file, for another house or to keep. What a file brings is seen first, and saved when you press Save.`,
  saveFile: $localize`:@@dressing.saveFile:Save as a file`,
  takeFile: $localize`:@@dressing.takeFile:Take from a file`,
  tooHeavy: $localize`:@@dressing.tooHeavy:This file is heavier than 10 MB. Save it smaller and choose it again.`,
  slate: $localize`:@@dressing.slate:Standby slate`,
  slateText: $localize`:@@dressing.slateText:What viewers read while there is no picture`,
  save: $localize`:@@dressing.save:Save`,
  saved: $localize`:@@dressing.saved:Saved.`,
  changed: $localize`:@@dressing.changed:Not saved yet.`,
  undo: $localize`:@@dressing.undo:Back to what is saved`,
  drop: $localize`:@@dressing.drop:Go by the one for all shows`,
  dropArmed: $localize`:@@dressing.dropArmed:Its own is deleted. Press again`,
  noRight: $localize`:@@dressing.noRight:A host or a producer changes it.`,
  preview: $localize`:@@dressing.preview:Preview: two people with their names`,
  previewMessage: $localize`:@@dressing.previewMessage:Preview: a viewer’s message`,
  previewSlate: $localize`:@@dressing.previewSlate:Preview: the standby slate`,
  sample: {
    people: [
      { id: 'one', name: 'Odalys Brandt', about: $localize`:@@dressing.sampleHost:Host` },
      {
        id: 'two',
        name: 'Pascoe Trethewey',
        about: $localize`:@@dressing.sampleGuest:Miller, third generation`,
      },
    ],
    title: $localize`:@@dressing.sampleTitle:The title of the show`,
    author: 'Ottoline Quist',
    place: 'Emberplay',
    message: $localize`:@@dressing.sampleMessage:Does rye need a longer rest than wheat, and how would I see that it has had enough?`,
  },
};

const contrastNames: Readonly<Record<string, string>> = {
  'ink paper': $localize`:@@dressing.inkPaper:Ink on paper`,
  'paper ground': $localize`:@@dressing.paperGround:Paper on the ground`,
  'accent paper': $localize`:@@dressing.accentPaper:Accent on paper`,
};
