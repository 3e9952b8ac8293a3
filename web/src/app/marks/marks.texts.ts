/** Texts of this part, marked for Angular's own translation. */
export const marksTexts = {
  mark: $localize`:@@marks.mark:Mark this moment`,
  list: $localize`:@@marks.list:Marked moments, the latest first`,
  none: $localize`:@@marks.none:Moments to be found again, marked while the show runs.`,
  words: (time: string) => $localize`:@@marks.words:What happens at ${time}:time:`,
  wordsShort: $localize`:@@marks.wordsShort:what happens here`,
  remove: $localize`:@@marks.remove:Remove`,
  removeAt: (time: string) => $localize`:@@marks.removeAt:Remove the mark at ${time}:time:`,
  chapters: $localize`:@@marks.chapters:Save chapters`,
  chaptersName: $localize`:@@marks.chaptersName:Save chapters of the show as WebVTT`,
};
