/** A set of whole numbers that mostly follow one another, kept as ranges: packets stored, packets still to be sent. */
export class Ranges {
  /** Sorted, apart from one another by at least one number; both ends included. */
  private readonly list: { from: number; to: number }[] = [];

  get empty(): boolean {
    return this.list.length === 0;
  }

  /** The lowest number; null when empty. */
  get first(): number | null {
    return this.list[0]?.from ?? null;
  }

  get count(): number {
    return this.list.reduce((sum, { from, to }) => sum + to - from + 1, 0);
  }

  has(number: number): boolean {
    const at = this.indexOf(number);
    return at < this.list.length && this.list[at]!.from <= number;
  }

  /** Whether any number from `from` to `to` (both included) is in it. */
  touches(from: number, to: number): boolean {
    const range = this.list[this.indexOf(from)];
    return range !== undefined && range.from <= to;
  }

  /** False: it was there already. */
  add(number: number): boolean {
    const at = this.indexOf(number);
    const range = this.list[at];
    if (range && range.from <= number) return false;
    const before = this.list[at - 1];
    const joinsBefore = before?.to === number - 1;
    const joinsAfter = range?.from === number + 1;
    if (joinsBefore && joinsAfter) {
      before.to = range.to;
      this.list.splice(at, 1);
    } else if (joinsBefore) before.to = number;
    else if (joinsAfter) range.from = number;
    else this.list.splice(at, 0, { from: number, to: number });
    return true;
  }

  delete(number: number): boolean {
    const at = this.indexOf(number);
    const range = this.list[at];
    if (!range || range.from > number) return false;
    if (range.from === range.to) this.list.splice(at, 1);
    else if (range.from === number) range.from += 1;
    else if (range.to === number) range.to -= 1;
    else {
      this.list.splice(at + 1, 0, { from: number + 1, to: range.to });
      range.to = number - 1;
    }
    return true;
  }

  /** Where the range that ends at or after `number` stands. Mostly the last one: so it is looked for from the end. */
  private indexOf(number: number): number {
    let at = this.list.length;
    while (at > 0 && this.list[at - 1]!.to >= number) at -= 1;
    return at;
  }
}
