import type { Dated } from '../compile'
import type { PlanDay } from './output'

/** The lines of a node day by day, and on which of them anything happens. */
export class NodeLines {
  readonly pulled = new Set<Dated>()
  private readonly happens: Uint8Array
  private readonly columns: Float64Array[]
  constructor(readonly span: number) {
    this.happens = new Uint8Array(span)
    this.columns = Array.from({ length: 7 }, () => new Float64Array(span))
    this.happens[0] = 1
  }

  /** Projected available at the end of a day, with the planned orders. */
  balance(day: number): number {
    return this.columns[5]![day]!
  }
  mark(day: number): void {
    if (day < this.span) {
      this.happens[day] = 1
    }
  }
  release(day: number, quantity: number): void {
    if (day < this.span) {
      this.columns[4]![day]! += quantity
      this.happens[day] = 1
    }
  }

  set(
    day: number,
    flow: { readonly gross: Float64Array; readonly fixed: Float64Array; readonly safety: Float64Array },
    scheduled: number,
    net: number,
    planned: number,
    balance: number,
    balanceWithoutOrders: number,
    late: Float64Array,
  ): void {
    const [gross, receipts, nets, plans, , balances, bares] = this.columns as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ]
    gross[day] = flow.gross[day]!
    receipts[day] = scheduled
    plans[day] = planned + flow.fixed[day]! + late[day]!
    balances[day] = balance
    bares[day] = balanceWithoutOrders
    const busy =
      flow.gross[day]! > 0 || scheduled > 0 || plans[day]! > 0 || (day > 0 && flow.safety[day] !== flow.safety[day - 1])
    if (busy) {
      this.happens[day] = 1
    }
    nets[day] = net
  }

  written(iso: (day: number) => string): readonly PlanDay[] {
    const [gross, receipts, nets, plans, releases, balances, bares] = this.columns as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ]
    const days: PlanDay[] = []
    for (let day = 0; day < this.span; day++) {
      if (this.happens[day] === 0) {
        continue
      }
      days.push({
        day: iso(day),
        grossRequirements: gross[day]!,
        scheduledReceipts: receipts[day]!,
        netRequirements: nets[day]!,
        plannedReceipts: plans[day]!,
        plannedReleases: releases[day]!,
        projectedAvailable: balances[day]!,
        withoutOrders: bares[day]!,
      })
    }
    return days
  }
}
