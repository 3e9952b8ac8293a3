/** Texts of this part, marked for Angular's own translation. */

/** A show is started on another day or at another hour than it is planned for. */
export const offPlanTexts = {
  title: (when: string, distance: string) =>
    $localize`:@@offPlan.title:This show is planned for ${when}:when:, ${distance}:distance:`,
  airs: (places: string) =>
    $localize`:@@offPlan.airs:Started now, it is on air at once, and viewers can see it: ${places}:places:. What is booked there is used up by it.`,
  drillInstead: $localize`:@@offPlan.drillInstead:To try things, begin a drill: everything works as on air, and nothing leaves the house.`,
  notNow: $localize`:@@offPlan.notNow:Do not start`,
  drill: $localize`:@@offPlan.drill:Begin a drill`,
  air: $localize`:@@offPlan.air:Go on air now`,
};

/** A show that is over, on its desk. */
export const overTexts = {
  ended: (time: string, length: string) =>
    $localize`:@@over.ended:The show ended at ${time}:time: after ${length}:length:.`,
  putBack: $localize`:@@over.putBack:Put back to planned`,
  putBackArmed: $localize`:@@over.putBackArmed:Put back now`,
  putBackText: $localize`:@@over.putBackText:For a show that was started by mistake. It is planned again as it was; recordings and messages stay.`,
  eventsOver: (places: string) =>
    $localize`:@@over.eventsOver:What viewers saw stays at the places. Events that have to be made anew: ${places}:places:.`,
  again: $localize`:@@over.again:Go on air again…`,
};

/** What needs a person, and what to do. */
export const alarmTexts = {
  title: $localize`:@@alarm.title:Needs you`,
  kinds: {
    failed: (name: string) => $localize`:@@alarm.failed:${name}:name: has failed. Start it again.`,
    slate: () => $localize`:@@alarm.slate:Nobody composes. Viewers see the slate.`,
    silent: () => $localize`:@@alarm.silent:Viewers hear nothing. Is a microphone off?`,
    lapses: (name: string) =>
      $localize`:@@alarm.lapses:${name}:name: is about to cancel the event. Start its feed.`,
    held: (name: string) =>
      $localize`:@@alarm.held:${name}:name: has the picture, and nobody sees it. Publish it.`,
    unseen: (name: string) =>
      $localize`:@@alarm.unseen:${name}:name: should be public, and is not seen there. Look at its page.`,
    runs_out: (name: string) => $localize`:@@alarm.runsOut:${name}:name: ends its longest show soon.`,
  } satisfies Record<string, (name: string) => string>,
  heldByHand: (name: string) =>
    $localize`:@@alarm.heldByHand:${name}:name: has the picture, and nobody sees it. Publish it on its own page.`,
  left: (time: string) => $localize`:@@alarm.left:${time}:time: left.`,
};
