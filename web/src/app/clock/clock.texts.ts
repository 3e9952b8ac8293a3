/** Texts of this part, marked for Angular's own translation. */
export const clockTexts = {
  now: $localize`:@@clock.now:now`,
  ahead: (amount: string) => $localize`:@@clock.ahead:in ${amount}:amount:`,
  ago: (amount: string) => $localize`:@@clock.ago:${amount}:amount: ago`,
  minutes: (n: number) => $localize`:@@clock.minutes:${n}:count: min`,
  hours: (n: number) => $localize`:@@clock.hours:${n}:count: h`,
  days: (n: number) => $localize`:@@clock.days:${n}:count: days`,
};
