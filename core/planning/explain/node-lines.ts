import type { Dated } from '../compile'
import type { DayBalance, Flow } from '../netting'
import type { PlanDay } from './output'

/** The lines of a node day by day, and on which of them anything happens. Units: finest steps. */
export class NodeLines {
  readonly pulled = new Set<Dated>()
  private readonly happens: Uint8Array
  private readonly gross: Float64Array
  private readonly scheduled: Float64Array
  private readonly net: Float64Array
  private readonly receipts: Float64Array
  private readonly releases: Float64Array
  private readonly balances: Float64Array
  private readonly withoutOrders: Float64Array
  /** What came so far of what was not netted. */
  private cameLate = 0

  constructor(readonly span: number) {
    const column = (): Float64Array => new Float64Array(span)
    this.happens = new Uint8Array(span)
    this.gross = column()
    this.scheduled = column()
    this.net = column()
    this.receipts = column()
    this.releases = column()
    this.balances = column()
    this.withoutOrders = column()
    this.happens[0] = 1
  }

  /** Projected available at the end of a day, with the planned orders. */
  balance(day: number): number {
    return this.balances[day]!
  }

  mark(day: number): void {
    if (day < this.span) {
      this.happens[day] = 1
    }
  }

  release(day: number, quantity: number): void {
    if (day < this.span) {
      this.releases[day]! += quantity
      this.happens[day] = 1
    }
  }

  /**
   * `late`: what planned orders of other nodes bring on this day without that it was netted. Days come in their order.
   */
  set(day: number, found: DayBalance, flow: Flow, late: number): void {
    this.gross[day] = flow.gross[day]!
    this.scheduled[day] = found.scheduled
    this.receipts[day] = found.planned + flow.fixed[day]! + late
    this.cameLate += late
    this.balances[day] = found.balance + this.cameLate
    this.withoutOrders[day] = found.balanceWithoutOrders
    this.net[day] = found.net
    const safetyChanges = day > 0 && flow.safety[day] !== flow.safety[day - 1]
    if (flow.gross[day]! > 0 || found.scheduled > 0 || this.receipts[day]! > 0 || safetyChanges) {
      this.happens[day] = 1
    }
  }

  /** The days on which anything happens, in their order. */
  written(iso: (day: number) => string): readonly PlanDay[] {
    const days: PlanDay[] = []
    for (let day = 0; day < this.span; day++) {
      if (this.happens[day] === 0) {
        continue
      }
      days.push({
        day: iso(day),
        grossRequirements: this.gross[day]!,
        scheduledReceipts: this.scheduled[day]!,
        netRequirements: this.net[day]!,
        plannedReceipts: this.receipts[day]!,
        plannedReleases: this.releases[day]!,
        projectedAvailable: this.balances[day]!,
        withoutOrders: this.withoutOrders[day]!,
      })
    }
    return days
  }
}
