import type { Dated } from '../compile'

/**
 * Is told which open supply comes on another day than its own, and which shortage waits for one that cannot come in
 * time.
 */
export interface SupplyListener {
  pulled?(day: number, supply: Dated): void
  /** `missing`: what is short on `day` until the supply comes on `comes`. */
  waits?(day: number, supply: Dated, comes: number, missing: number): void
  decided?(decision: Decision): void
}

/** How far ahead open supply is looked for. Days from the start of the plan on. */
export interface PullIn {
  /** Calendar days within which a later supply is pulled in to a shortage; below zero: never. */
  readonly window: number
  /**
   * The first day on which an order placed on the start day could be there: what comes by then is waited for; below
   * zero: nothing is.
   */
  readonly soonest: number
}

interface Waiting {
  readonly supply: Dated
  readonly comes: number
}
/** Most nodes wait for nothing: they share it. */
const NOTHING: readonly Waiting[] = []

/**
 * That a shortage on `day` took the supply of that place in the list, which comes on `comes`: the same day where it was
 * pulled in.
 */
export interface Decision {
  readonly day: number
  readonly place: number
  readonly comes: number
}

/**
 * The open supply of one node, handed out day by day. Units: finest steps.
 *
 * What is due comes on its day. A shortage before it pulls it in, whole, those due first before others, but never
 * before its earliest day; where a new order could not be there sooner, the shortage waits for it instead, and it comes
 * as early as it can.
 */
export class OpenSupply {
  /** What shortages wait for: it covers them already, although it is not there yet. */
  awaited = 0
  /** The first supply that is neither there nor waited for. */
  private next = 0
  private readonly taken: Uint8Array | null
  private waiting: readonly Waiting[] = NOTHING

  constructor(
    private readonly supplies: readonly Dated[],
    private readonly reach: PullIn,
    private readonly listener: SupplyListener,
    /** Where it was decided before what is taken when: that stays so. */
    private readonly decided: readonly Decision[] | null = null,
  ) {
    this.taken = supplies.length === 0 ? null : new Uint8Array(supplies.length)
  }

  /** The day before which nothing comes by itself; `never` where nothing does. */
  nextDay(never: number): number {
    const day = this.next < this.supplies.length ? this.supplies[this.next]!.at : never
    return this.waiting.length === 0 ? day : Math.min(day, ...this.waiting.map((entry) => entry.comes))
  }

  /** What comes on a day by itself: it is due, or it was waited for. */
  arrive(day: number): number {
    if (this.taken === null) {
      return 0
    }
    const awaited = this.waiting.length > 0 ? this.awaitedOn(day) : 0
    return awaited + this.dueBy(day)
  }

  private awaitedOn(day: number): number {
    let arrived = 0
    for (const { supply, comes } of this.waiting.filter((entry) => entry.comes <= day)) {
      arrived += supply.quantity
      if (supply.at > comes) {
        this.listener.pulled?.(day, supply)
      }
    }
    this.awaited -= arrived
    this.waiting = this.waiting.filter((entry) => entry.comes > day)
    return arrived
  }

  private dueBy(day: number): number {
    let arrived = 0
    for (; this.next < this.supplies.length; this.next++) {
      const supply = this.supplies[this.next]!
      if (this.taken![this.next] === 1) {
        continue
      }
      if (supply.at > day) {
        break
      }
      this.taken![this.next] = 1
      arrived += supply.quantity
    }
    return arrived
  }

  /** Pulls in, for what is missing on a day, what can come by then. Answers how much that is. */
  pullIn(day: number, missing: number): number {
    let pulled = 0
    if (this.decided !== null) {
      for (const { place } of this.decided.filter((entry) => entry.day === day && entry.comes === day)) {
        pulled += this.take(day, place, day)
      }
      return pulled
    }
    for (let place = this.next; this.isBy(place, day + this.reach.window) && pulled < missing; place++) {
      if (this.taken![place] === 0 && this.supplies[place]!.earliest <= day) {
        pulled += this.take(day, place, day)
      }
    }
    return pulled
  }

  /**
   * Lets what is missing on a day wait for supply that cannot come by then, where a new order could not be there
   * sooner.
   */
  wait(day: number, missing: number): void {
    let covered = 0
    if (this.decided !== null) {
      for (const { place, comes } of this.decided.filter((entry) => entry.day === day && entry.comes > day)) {
        covered += this.take(day, place, comes, missing - covered)
      }
    } else {
      const last = Math.max(day + this.reach.window, this.reach.soonest)
      for (let place = this.next; this.isBy(place, last) && covered < missing; place++) {
        const { at, earliest } = this.supplies[place]!
        const comes = at <= day + this.reach.window ? Math.min(at, earliest) : at
        if (this.taken![place] === 0 && earliest > day && comes > day && this.reach.soonest >= comes) {
          covered += this.take(day, place, comes, missing - covered)
        }
      }
    }
    this.awaited += covered
  }

  private take(day: number, place: number, comes: number, missing = 0): number {
    const supply = this.supplies[place]!
    this.taken![place] = 1
    this.listener.decided?.({ day, place, comes })
    if (comes === day) {
      this.listener.pulled?.(day, supply)
    } else {
      this.waiting = [...this.waiting, { supply, comes }]
      this.listener.waits?.(day, supply, comes, Math.min(missing, supply.quantity))
    }
    return supply.quantity
  }

  private isBy(place: number, day: number): boolean {
    return place < this.supplies.length && this.supplies[place]!.at <= day
  }

  /** What comes by itself from `day` on to a later one, without taking it: for looking ahead. Ask by rising days. */
  ahead(): (day: number) => number {
    let place = this.next
    return (day) => {
      let coming = 0
      for (; place < this.supplies.length && this.supplies[place]!.at <= day; place++) {
        coming += this.taken![place] === 1 ? 0 : this.supplies[place]!.quantity
      }
      return coming
    }
  }
}
