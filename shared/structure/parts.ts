import { buildable } from '~~/core/structure/buildable'
import { compileStructure, explode, type Structure, type StructureLine } from '~~/core/structure'
import { leadPath, massOf, rollUp, type Costing, type LeadStep, type UnitCost } from '~~/core/structure/roll-ups'
import { tierAt, type PriceTier } from '~~/core/pricing'
import { convert } from '~~/core/units/graph'
import { nearestEven, ONE, ratio, upwards, ZERO, type Ratio } from '~~/core/units/exact'
import { measureOf, type RelationRow, type UnitRow } from '../catalogue/measure'
import type { CostBasis } from './words'

/** What a supplier asks for one of its units; `holds`: stock units in it. Money in the company's currency. */
export interface Offer {
  readonly supplier: string
  readonly unit: string
  readonly holds: string
  readonly price: string
  readonly minimum: string
  readonly multiple: string
  readonly tiers: readonly PriceTier[]
  readonly leadDays: number
}
/** An item of a structure with all that is asked of it. Amounts in its stock unit; money per stock unit. */
export interface PartItem {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly status: string
  readonly kitPolicy: string
  readonly tracking: string
  readonly stockUnit: string
  readonly buyingUnit: string
  readonly sellingUnit: string
  readonly makingUnit: string
  readonly finestStep: string
  readonly symbol: string
  readonly decimals: number
  readonly relations: readonly RelationRow[]
  readonly leadDays: number
  readonly free: string
  readonly onHand: string
  readonly price: string | null
  readonly cost: string | null
  readonly standardCost: string | null
  /** Null for whoever may not see costs. */
  readonly offers: readonly Offer[] | null
  /** The code of the bulk item that it is broken down from. */
  readonly comesFrom: string | null
}
/** `work`, `other`: money that making one stock unit adds, null for whoever may not see costs; `keeps`: the share of the cost that by-products leave. */
export interface PartBill {
  readonly id: number
  readonly itemId: number
  readonly revision: number
  readonly batch: string
  readonly work: string | null
  readonly other: string | null
  readonly keeps: string
}
export interface PartLine {
  readonly parent: number
  readonly child: number
  readonly per: string
  readonly fixed: string
  readonly scrap: string
  readonly outputYield: string
  readonly offsetDays: number
  readonly phantom: boolean
}
export interface PartBreakDown {
  readonly bulk: number
  readonly take: string
  readonly outputs: readonly { readonly item: number; readonly quantity: string; readonly share: string }[]
}
/** A structure as it travels: everything that its questions are answered from, in the browser as on the server. */
export interface Parts {
  readonly items: readonly PartItem[]
  readonly bills: readonly PartBill[]
  readonly lines: readonly PartLine[]
  readonly breakDowns: readonly PartBreakDown[]
  readonly today: string
}

export interface CostedRow {
  readonly itemId: number
  readonly level: number
  readonly quantity: Ratio
  readonly cost: UnitCost
  readonly money: { readonly material: Ratio; readonly work: Ratio; readonly other: Ratio; readonly total: Ratio }
  readonly isShort: boolean
}
export interface Costed {
  readonly rows: readonly CostedRow[]
  readonly cost: UnitCost
  readonly total: Ratio
  readonly unpriced: readonly number[]
}

/** A structure of parts, compiled; null with the loop where it runs in a circle. */
export class PartStructure {
  readonly items: ReadonlyMap<string, PartItem>
  private readonly bills: ReadonlyMap<string, PartBill>
  private constructor(
    readonly parts: Parts,
    readonly structure: Structure,
  ) {
    this.items = new Map(parts.items.map((item) => [String(item.id), item]))
    this.bills = new Map(parts.bills.map((bill) => [String(bill.itemId), bill]))
  }

  static of(
    parts: Parts,
  ): { readonly ok: true; readonly value: PartStructure } | { readonly ok: false; readonly loop: readonly number[] } {
    const compiled = compileStructure(parts.lines.map(lineOf))
    return compiled.ok
      ? { ok: true, value: new PartStructure(parts, compiled.value) }
      : { ok: false, loop: compiled.error.path.map(Number) }
  }

  /** Money that making one of an item adds to what it is made of. */
  addedTo(itemId: number): number {
    const bill = this.bills.get(String(itemId))
    return bill ? Number(bill.work) + Number(bill.other) : 0
  }

  isMade(itemId: number): boolean {
    return this.parts.lines.some((line) => line.parent === itemId)
  }

  /** Everything below an item for a quantity of it, with what it costs at that quantity. */
  costed(itemId: number, quantity: Ratio, basis: CostBasis): Costed {
    const rows = explode(this.structure, String(itemId), quantity)
    const need = new Map<string, Ratio>([
      [String(itemId), quantity],
      ...rows.map((row): [string, Ratio] => [row.item, row.quantity]),
    ])
    const unpriced = new Set<number>()
    const costs = rollUp(this.structure, this.costing(basis, need, unpriced), String(itemId))
    const own = costs.get(String(itemId)) ?? this.boughtOnly(String(itemId), basis, quantity, unpriced)
    return {
      cost: own,
      total: own.total.mul(quantity),
      unpriced: [...unpriced],
      rows: rows.map((row) => {
        const cost = costs.get(row.item)!
        const times = (amount: Ratio): Ratio => amount.mul(row.quantity)
        return {
          itemId: Number(row.item),
          level: row.level,
          quantity: row.quantity,
          cost,
          money: {
            material: times(cost.material),
            work: times(cost.work),
            other: times(cost.other),
            total: times(cost.total),
          },
          isShort: ratio(this.items.get(row.item)?.free ?? '0').compare(row.quantity) < 0,
        }
      }),
    }
  }

  lead(itemId: number): readonly LeadStep[] {
    return leadPath(this.structure, String(itemId), (item) => this.items.get(item)?.leadDays ?? 0)
  }

  /** The mass of one in kilograms, as far as weights are known. */
  mass(itemId: number, units: readonly UnitRow[]): { readonly known: Ratio; readonly unknown: readonly number[] } {
    const found = massOf(
      this.structure,
      String(itemId),
      (item) => massStated(this.items.get(item), units),
      (item) => ratio(this.bills.get(item)?.batch ?? '1'),
    )
    return { known: found.known, unknown: found.unknown.map(Number) }
  }

  buildable(wanted: readonly { itemId: number; quantity: Ratio }[]): ReturnType<typeof buildable> {
    const recipes = this.parts.breakDowns.map((recipe) => ({
      bulk: String(recipe.bulk),
      take: ratio(recipe.take),
      outputs: recipe.outputs.map((o) => ({ item: String(o.item), quantity: ratio(o.quantity) })),
    }))
    return buildable(
      this.structure,
      wanted.map((cut) => ({ item: String(cut.itemId), quantity: cut.quantity })),
      {
        free: (item) => ratio(this.items.get(item)?.free ?? '0'),
        finestStep: (item) => ratio(this.items.get(item)?.finestStep ?? '1'),
      },
      recipes,
    )
  }

  private costing(basis: CostBasis, need: ReadonlyMap<string, Ratio>, unpriced: Set<number>): Costing {
    return {
      bought: (item) => this.priceOf(item, basis, need.get(item) ?? ONE, unpriced),
      work: (item) => ratio(this.bills.get(item)?.work ?? '0'),
      other: (item) => ratio(this.bills.get(item)?.other ?? '0'),
      keeps: (item) => ratio(this.bills.get(item)?.keeps ?? '1'),
      build: (item) => {
        const total = need.get(item)
        return total && !total.equals(ZERO) ? total : ratio(this.bills.get(item)?.batch ?? '1')
      },
    }
  }

  private boughtOnly(item: string, basis: CostBasis, quantity: Ratio, unpriced: Set<number>): UnitCost {
    const price = this.priceOf(item, basis, quantity, unpriced)
    return { material: price, work: ZERO, other: ZERO, total: price }
  }

  /** Money for one stock unit of what is not made, at a quantity: by the basis, else by the next best that is known. */
  private priceOf(item: string, basis: CostBasis, quantity: Ratio, unpriced: Set<number>, deep = 0): Ratio {
    const part = this.items.get(item)
    const offered = bestOffer(offersOf(part), quantity, this.parts.today)
    const current = part?.cost == null ? null : ratio(part.cost)
    const standard = part?.standardCost == null ? null : ratio(part.standardCost)
    const order = { current: [current, offered, standard], standard: [standard, current, offered] }[
      basis as string
    ] ?? [offered, current, standard]
    const [first] =
      basis === 'best supplier price' && offered === null
        ? [this.priceOfBulk(item, basis, quantity, unpriced, deep) ?? current ?? standard]
        : order.filter((price) => price !== null)
    const price = first ?? this.priceOfBulk(item, basis, quantity, unpriced, deep)
    if (!price) {
      unpriced.add(Number(item))
    }
    return price ?? ZERO
  }

  private priceOfBulk(
    item: string,
    basis: CostBasis,
    quantity: Ratio,
    unpriced: Set<number>,
    deep: number,
  ): Ratio | null {
    const recipe =
      deep > 20
        ? undefined
        : this.parts.breakDowns.find((breakDown) => breakDown.outputs.some((o) => String(o.item) === item))
    if (!recipe) {
      return null
    }
    const output = recipe.outputs.find((o) => String(o.item) === item)!
    const shares = recipe.outputs.reduce((sum, o) => sum.add(ratio(o.share)), ZERO)
    const share = ratio(output.share).div(shares)
    const bulk = quantity.div(ratio(output.quantity)).mul(ratio(recipe.take))
    return round9(
      this.priceOf(String(recipe.bulk), basis, bulk, unpriced, deep + 1)
        .mul(ratio(recipe.take))
        .mul(share)
        .div(ratio(output.quantity)),
    )
  }
}

const lineOf = (line: PartLine): StructureLine => ({
  parent: String(line.parent),
  child: String(line.child),
  per: ratio(line.per),
  fixed: ratio(line.fixed),
  scrap: ratio(line.scrap),
  outputYield: ratio(line.outputYield),
  offsetDays: line.offsetDays,
  phantom: line.phantom,
})

/** Money to nine decimals: prices with longer denominators would make sums of many hundred digits. */
export const round9 = (money: Ratio): Ratio => ratio(nearestEven(money.mul(NINE)), 1_000_000_000)
const NINE = ratio(1_000_000_000)

/**
 * The least that a supplier asks for one stock unit when `quantity` is bought: at least its minimum, up to its
 * multiple, by its tiers.
 */
export function bestOffer(offers: readonly Offer[], quantity: Ratio, day: string): Ratio | null {
  let best: Ratio | null = null
  for (const offer of offers) {
    const holds = ratio(offer.holds)
    const step = ratio(offer.multiple).equals(ZERO) ? ONE : ratio(offer.multiple)
    const wanted = quantity.div(holds)
    const least = wanted.compare(ratio(offer.minimum)) < 0 ? ratio(offer.minimum) : wanted
    const ordered = step.mul(ratio(upwards(least.div(step))))
    const price = round9(ratio(tierAt(offer.tiers, ordered, day)?.price ?? offer.price).div(holds))
    if (best === null || price.compare(best) < 0) {
      best = price
    }
  }
  return best
}

function massStated(item: PartItem | undefined, units: readonly UnitRow[]): Ratio | null {
  if (!item) {
    return null
  }
  const measure = measureOf(units, item)
  if (!measure.ok) {
    return null
  }
  const kilograms = convert(measure.value.graph, ONE, item.stockUnit, 'kg')
  return kilograms.ok ? kilograms.value : null
}

const offersOf = (part: PartItem | undefined): readonly Offer[] => part?.offers ?? []
