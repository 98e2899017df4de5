/**
 * Open supply of a node that can still be pulled in to an earlier day. Days from the start on; quantities in finest
 * steps.
 */
export interface Incoming {
  readonly label: string
  readonly quantity: number
  /** The day on which it is due, and the one on which it now comes. */
  readonly due: number
  readonly comes: number
  /** It never comes before this. */
  readonly earliest: number
}

/** How what is asked for can be had by a day by pulling in open supply. */
export interface PullIn {
  readonly day: number
  readonly supplies: readonly Incoming[]
}

/**
 * What is left over of a node when everything that is promised already is kept: its balance day by day, and what can
 * still be pulled in.
 *
 * What is free from a day on is the least balance of that day and all later ones (available to promise, with
 * look-ahead). Every change can be taken back.
 * Units: days from the start on; finest steps.
 */
export class FreeStock {
  private incoming: readonly Incoming[]

  constructor(
    private readonly balances: Float64Array,
    incoming: readonly Incoming[],
    private readonly journal: Journal,
  ) {
    this.incoming = incoming
  }

  /** What is free from a day on, never below zero. */
  from(day: number): number {
    let least = Infinity
    for (let at = Math.max(0, Math.min(day, this.balances.length - 1)); at < this.balances.length; at++) {
      least = Math.min(least, this.balances[at]!)
    }
    return Math.max(0, least)
  }

  /** The first day from which so much is free for good; null within the horizon. */
  firstDay(quantity: number): number | null {
    let day = this.balances.length
    while (day > 0 && this.balances[day - 1]! >= quantity) {
      day--
    }
    return day < this.balances.length ? day : null
  }

  /**
   * The first day before `before` by which so much is free when open supply is pulled in, those due first before
   * others; null where there is none.
   */
  pulledIn(quantity: number, before: number, window: number): PullIn | null {
    const days = [...new Set(this.incoming.map((supply) => Math.max(0, supply.earliest)))].sort((a, b) => a - b)
    for (const day of days.filter((earliest) => earliest < before)) {
      const can = this.incoming.filter(
        (supply) => supply.comes > day && supply.earliest <= day && supply.due <= day + window,
      )
      for (let count = 1; count <= can.length; count++) {
        const supplies = can.slice(0, count)
        if (this.leastWith(supplies, day) >= quantity) {
          return { day, supplies }
        }
      }
    }
    return null
  }

  private leastWith(supplies: readonly Incoming[], day: number): number {
    let least = Infinity
    for (let at = day; at < this.balances.length; at++) {
      let balance = this.balances[at]!
      for (const supply of supplies) {
        balance += supply.comes > at ? supply.quantity : 0
      }
      least = Math.min(least, balance)
    }
    return least
  }

  /** Lets open supply come on an earlier day. */
  pullIn({ day, supplies }: PullIn): void {
    const before = this.incoming
    this.journal.note(() => (this.incoming = before))
    this.incoming = before.map((supply) => (supplies.includes(supply) ? { ...supply, comes: day } : supply))
    for (const supply of supplies) {
      this.add(day, supply.quantity)
      this.add(supply.comes, -supply.quantity)
    }
  }

  /** So much more (or less) from a day on. */
  add(from: number, quantity: number): void {
    if (quantity === 0) {
      return
    }
    this.shift(from, quantity)
    this.journal.note(() => this.shift(from, -quantity))
  }

  private shift(from: number, quantity: number): void {
    for (let at = Math.max(0, from); at < this.balances.length; at++) {
      this.balances[at]! += quantity
    }
  }

  /** What brings something by itself on a day; null where it is not one thing alone. */
  whatComes(day: number): Incoming | null {
    const brings = this.incoming.filter((supply) => supply.comes === day)
    return brings.length === 1 ? brings[0]! : null
  }
}

/**
 * What was changed, to take it back up to a mark: one way that was tried costs what it touched, not a copy of
 * everything.
 */
export class Journal {
  private readonly undo: (() => void)[] = []

  note(undo: () => void): void {
    this.undo.push(undo)
  }

  mark(): number {
    return this.undo.length
  }

  backTo(mark: number): void {
    while (this.undo.length > mark) {
      this.undo.pop()!()
    }
  }
}
