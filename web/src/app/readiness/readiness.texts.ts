import { isUpright, PICTURE_SHAPES } from '@juncta/core/programme';
import { formatTexts } from '../formats/formats.texts';
import type { LaunchItem } from '@juncta/core/readiness';
import type { PlaceFinding } from '@juncta/core/readiness';
import { renditionTexts } from '../renditions/renditions.texts';

/** Texts of this part, marked for Angular's own translation. */
export interface Named {
  /** The destination; empty for the whole show. */
  readonly place: string;
  /** The field or setting. */
  readonly field: string;
  /** The deadline, as people read it; empty without one. */
  readonly when: string;
  /** When somebody has to be at the desk. */
  readonly desk: string;
}

/** What will happen, when, and what to do. */
export function readinessSentence({ code, count, names }: PlaceFinding, named: Named): string {
  const { place, field, when, desk } = named;
  const list = names.join(', ');
  switch (code) {
    case 'no_destination':
      return $localize`:@@ready.noDestination:It goes nowhere yet: no destination is chosen.`;
    case 'text_too_long':
      return $localize`:@@ready.tooLong:The ${field}:field: is ${count}:n: too long for ${place}:place:. It refuses the listing like this.`;
    case 'text_missing':
      return $localize`:@@ready.textMissing:The ${field}:field: is empty. ${place}:place: refuses the listing like this.`;
    case 'too_many_hashtags':
      return $localize`:@@ready.hashtags:The ${field}:field: has ${count}:n: hashtags more than ${place}:place: takes.`;
    case 'unknown_placeholder':
      return $localize`:@@ready.placeholder:“{${list}:name:}” is nothing that is filled in. Viewers at ${place}:place: would read it as it stands.`;
    case 'disclosure_missing':
      return $localize`:@@ready.disclosure:It is sponsored, and ${place}:place: asks for a disclosure: it refuses the listing without one.`;
    case 'disclosure_unsaid':
      return $localize`:@@ready.disclosureUnsaid:It is sponsored, and its text at ${place}:place: does not say so. Many of its viewers live where that has to stand in words: write who pays.`;
    case 'empty_placeholder':
      return $localize`:@@ready.placeholderEmpty:There is nothing yet to fill in for “{${list}:name:}”. At ${place}:place: a hole would be read.`;
    case 'picture_missing':
      return $localize`:@@ready.picture:${place}:place: announces nothing without a picture, and there is none yet. Give the show one.`;
    case 'picture_small':
      return $localize`:@@ready.pictureSmall:What is shown of the picture at ${place}:place: has to be enlarged to ${count}:count: pixels across, and will look soft.`;
    case 'frame_too_large':
      return $localize`:@@ready.frameTooLarge:${place}:place: takes a picture of ${count}:lines: lines at most, this show has more, and the relay has no room to encode one for it. Choose a smaller one at the desk.`;
    case 'frames_too_many':
      return $localize`:@@ready.framesTooMany:${place}:place: takes ${count}:rate: frames a second at most, this show has more, and the relay has no room to encode a picture for it. Choose another one at the desk.`;
    case 'no_room_to_encode':
      return $localize`:@@ready.noRoom:${place}:place: takes ${count}:kbps: kbit/s at most, this show has more, and the relay has no room to encode a picture for it. Choose a smaller one at the desk.`;
    case 'encoded_apart': {
      const [height, rateHz, videoKbps] = names.slice(0, 3).map(Number) as [number, number, number];
      const shape = PICTURE_SHAPES.find((one) => one === names[3]) ?? 'landscape';
      const picture = renditionTexts.picture({ shape, height, rateHz, videoKbps });
      if (isUpright(shape))
        return $localize`:@@ready.upright:${place}:place: takes an upright picture. It is made of the programme, and encoded at the relay: ${picture}:picture:.`;
      return $localize`:@@ready.apart:${place}:place: takes less than this show sends. It gets a picture of its own, encoded at the relay: ${picture}:picture:.`;
    }
    case 'no_upright':
      return $localize`:@@ready.noUpright:${place}:place: takes an upright picture, and the relay has no room to encode one for it. Choose a smaller picture at the desk, or send it to fewer places that are encoded apart.`;
    case 'setting_missing':
      return $localize`:@@ready.setting:${place}:place: shows nothing before ${field}:field: is chosen.`;
    case 'account_lost':
      return $localize`:@@ready.account:${place}:place: no longer lets us in. Connect the account again; its settings are kept.`;
    case 'key_used_twice':
      return $localize`:@@ready.key:The one key of ${place}:place: is used at the same time by ${list}:shows:. One of them would throw the other out.`;
    case 'exclusive':
      return $localize`:@@ready.exclusive:${place}:place: forbids sending elsewhere in public while it is authorised, and this show goes to ${count}:n: others. By address and key it does not.`;
    case 'slot_past':
      return $localize`:@@ready.slotPast:The slot at ${place}:place: has gone by. Viewers see the show from when its feed begins.`;
    case 'slot_moved':
      return $localize`:@@ready.slotMoved:${place}:place: still has the old slot. Viewers would come at the wrong time. Book again by ${when}:when:.`;
    case 'not_booked':
      return $localize`:@@ready.notBooked:Not booked at ${place}:place: yet. That is possible until ${when}:when:.`;
    case 'window_not_open':
      return $localize`:@@ready.notOpen:${place}:place: takes bookings for this slot from ${when}:when:. Book now, and it is done by itself then.`;
    case 'booking_waits':
      return $localize`:@@ready.waits:Booked at ${place}:place: by itself at ${when}:when:, when that is possible.`;
    case 'window_missed':
      return $localize`:@@ready.missed:Too late to book the slot at ${place}:place:. The event can still be made at once, without a slot.`;
    case 'will_lapse':
      return $localize`:@@ready.lapse:${place}:place: will cancel the event at ${when}:when:. Be on the desk by ${desk}:desk:.`;
    case 'lapsed':
      return $localize`:@@ready.lapsed:${place}:place: threw the event away. Make a new one at once: its page has a new address.`;
    case 'too_long':
      return $localize`:@@ready.long:${place}:place: ends the show at ${when}:when:, ${count}:n: minutes before its planned end.`;
    case 'differs':
      return $localize`:@@ready.differs:${place}:place: has other values than we sent: ${field}:field:. Push ours again, or look at its page.`;
    case 'by_hand':
      return $localize`:@@ready.byHand:${field}:field: cannot be set from outside at ${place}:place:. It stands on the launch sheet.`;
    case 'left_wrong':
      return $localize`:@@ready.leftWrong:${field}:field: at ${place}:place: is otherwise than the house wants it (${list}:value:).`;
    case 'twelve_hours':
      return $localize`:@@ready.twelve:This is twelve hours from when the series usually starts. Was the other half of the day meant?`;
    case 'at_night':
      return $localize`:@@ready.night:The show starts between midnight and six. Is that meant?`;
  }
}

export function launchSentence({ step, value }: LaunchItem, { place, field }: Named): string {
  switch (step) {
    case 'book':
      return $localize`:@@launch.book:Book at ${place}:place:`;
    case 'check_gear':
      return $localize`:@@launch.gear:Check camera, sound and line, and those of the guests`;
    case 'at_desk':
      return $localize`:@@launch.desk:Be at the desk`;
    case 'set_by_hand':
      return $localize`:@@launch.set:On ${place}:place:’s own page set ${field}:field: to ${value ?? ''}:value:`;
    case 'give_picture':
      return $localize`:@@launch.picture:Give ${place}:place: a picture`;
    case 'pick_event':
      return $localize`:@@launch.pick:Choose the event that was prepared at ${place}:place:`;
    case 'start':
      return $localize`:@@launch.start:Start the feeds`;
    case 'publish':
      return $localize`:@@launch.publish:Publish at ${place}:place: once it holds the picture`;
    case 'publish_by_hand':
      return $localize`:@@launch.publishByHand:Look at ${place}:place:’s own page, and make it public there if it is not`;
    case 'lapse':
      return $localize`:@@launch.lapse:${place}:place: cancels the event if nothing has arrived`;
  }
}

export const readinessTexts = {
  title: $localize`:@@readiness.title:Readiness`,
  nothing: $localize`:@@readiness.nothing:Every rule that we know is met.`,
  counts: (blocks: number, warnings: number, advice: number) =>
    $localize`:@@readiness.counts:${blocks}:blocks: block, ${warnings}:warnings: warn, ${advice}:advice: advise`,
  fixes: {
    shorten: $localize`:@@fix.shorten:Shorten`,
    set: $localize`:@@fix.set:Back to the house’s`,
    book: $localize`:@@fix.book:Book`,
    book_anew: $localize`:@@fix.bookAnew:Make it at once`,
    push: $localize`:@@fix.push:Push again`,
    move_12_hours: $localize`:@@fix.move:Move by twelve hours`,
  },
  fixOf: (fix: string, sentence: string) => $localize`:@@fix.of:${fix}:fix:: ${sentence}:sentence:`,
  edit: $localize`:@@readiness.edit:Edit`,
};

export const launchTexts = {
  title: $localize`:@@launch.title:Launch sheet`,
  intro: $localize`:@@launch.intro:Everything that has to happen, in order of time. What the machine does, it does by itself; the rest is for somebody to do and tick.`,
  caption: $localize`:@@launch.caption:What has to happen for this show`,
  due: $localize`:@@launch.due:Due`,
  left: $localize`:@@launch.left:Left`,
  what: $localize`:@@launch.what:What`,
  by: $localize`:@@launch.by:By`,
  done: $localize`:@@launch.done:Done`,
  machine: $localize`:@@launch.machine:the machine`,
  somebody: $localize`:@@launch.somebody:somebody`,
  place: $localize`:@@launch.place:the place`,
  noStart: $localize`:@@launch.noStart:There is no start yet. With one, this fills in by itself.`,
  tick: (what: string) => $localize`:@@launch.tick:Done: ${what}:what:`,
  tickedBy: (who: string, when: string) => $localize`:@@launch.tickedBy:${who}:who:, ${when}:when:`,
  byItself: $localize`:@@launch.byItself:by itself`,
  late: $localize`:@@launch.late:late`,
  listings: $localize`:@@launch.listings:Listings`,
  saveCalendar: formatTexts.saveCalendar,
  print: $localize`:@@launch.print:Print`,
};
