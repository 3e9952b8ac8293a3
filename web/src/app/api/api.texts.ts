/** Texts of this part, marked for Angular's own translation. */
export const apiTexts = {
  noAnswer: $localize`:@@api.noAnswer:Juncta does not answer. Nothing of yours is lost; check the network and try again.`,
  unexpected: $localize`:@@api.unexpected:Something went wrong that was not foreseen. Nothing was changed. Try again, or reload the page.`,
};
