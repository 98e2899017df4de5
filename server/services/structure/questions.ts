import { majorText, toMinor } from '~~/core/money'
import { compileStructure, explodeIndented, whereUsed } from '~~/core/structure'
import type { UnitCost } from '~~/core/structure/roll-ups'
import { nearestEven, ratio, toDecimal, toText, upwards, type Ratio } from '~~/core/units/exact'
import type { TypedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { PartStructure, type CostedRow } from '~~/shared/structure/parts'
import type { CostBasis } from '~~/shared/structure/words'
import type {
  BuildableAnswer,
  BuildableUse,
  Explosion,
  ExplosionRow,
  ItemFacts,
  MoneyParts,
  WhereUsedRow,
} from '~~/shared/structure/answers'
import { loadUnits, loadMeasuredItem, readQuantity } from '../catalogue/measured-items'
import { loadParts } from './load-parts'
import { loadStructure } from './load-structure'

/** The structure of a scope, compiled; a loop that was stored all the same is told by its path. */
export async function loadPartStructure(
  today: string,
  scope: Parameters<typeof loadParts>[2],
  instead: readonly number[] = [],
): Promise<PartStructure> {
  const parts = await loadParts(db, today, scope, instead)
  let asked
  if (scope === 'all') {
    asked = []
  } else if ('below' in scope) {
    asked = scope.below
  } else {
    asked = scope.above
  }
  if (asked.some((id) => !parts.items.some((item) => item.id === id))) {
    throw new Refusal('not-found', 'There is no such item.')
  }
  const built = PartStructure.of(parts)
  if (built.ok) {
    return built.value
  }
  const codes = new Map(parts.items.map((item) => [item.id, item.code]))
  throw new Refusal('loop', `The bills run in a circle: ${built.loop.map((id) => codes.get(id)).join(' → ')}.`)
}

/**
 * Everything below an item for a quantity of it: one level, written out, or summed; with what is free and what it
 * costs. Money in major units.
 */
export async function explodeItem(
  itemId: number,
  asked: {
    quantity: TypedQuantity
    unit: string
    how: 'one level' | 'indented' | 'summed'
    basis: CostBasis
    revision?: number | undefined
  },
  today: string,
): Promise<Explosion> {
  const root = await loadMeasuredItem(db, itemId)
  const { exact } = readQuantity(root, asked.quantity, asked.unit || root.stockUnit, 'quantity', 'required')
  const structure = await loadPartStructure(today, { below: [itemId] }, asked.revision ? [asked.revision] : [])
  const costed = structure.costed(itemId, exact, asked.basis)
  const byItem = new Map(costed.rows.map((row) => [row.itemId, row]))
  const own = costed.cost
  return {
    itemId,
    code: root.code,
    name: root.name,
    quantity: toText(exact),
    symbol: root.symbol,
    how: asked.how,
    basis: asked.basis,
    cost: moneyOf(own, exact),
    unpriced: costed.unpriced.map((id) => structure.items.get(String(id))!.code),
    rows:
      asked.how === 'summed'
        ? costed.rows.map((row) => report(structure, row.itemId, row.level, row.quantity, row))
        : writtenOut(structure, itemId, exact, asked.how === 'one level' ? 1 : Infinity).map((row) =>
            report(structure, Number(row.item), row.depth, row.quantity, byItem.get(Number(row.item))!),
          ),
  }
}

function writtenOut(structure: PartStructure, itemId: number, exact: Ratio, deep: number) {
  const written = explodeIndented(structure.structure, String(itemId), exact, { deep })
  if (!written.ok) {
    throw new Refusal(
      'invalid-input',
      `Written out this has more than ${written.error.most} lines. Ask for one level, or for the sums.`,
    )
  }
  return written.value
}

/** In minor units that add up: what rounding leaves goes to the parts that lost most of it. */
export function moneyOf(cost: UnitCost, quantity: Ratio): MoneyParts {
  const exact = [cost.material, cost.work, cost.other].map((part) => toMinor(part.mul(quantity)))
  const total = nearestEven(toMinor(cost.total.mul(quantity)))
  const whole = exact.map((part) => upwards(part.neg()) * -1n)
  const left = Number(total - whole.reduce((sum, part) => sum + part, 0n))
  const order = [0, 1, 2].sort((x, y) => exact[y]!.sub(ratio(whole[y]!)).compare(exact[x]!.sub(ratio(whole[x]!))))
  for (const index of order.slice(0, left)) {
    whole[index]! += 1n
  }
  const [material, work, other] = whole.map(majorText) as [string, string, string]
  return { material, work, other, total: majorText(total) }
}

function report(
  structure: PartStructure,
  itemId: number,
  level: number,
  quantity: Ratio,
  { cost }: CostedRow,
): ExplosionRow {
  const item = structure.items.get(String(itemId))!
  return {
    itemId,
    code: item.code,
    name: item.name,
    source: item.source,
    level,
    quantity: toText(quantity),
    symbol: item.symbol,
    decimals: item.decimals,
    free: item.free,
    isShort: ratio(item.free).compare(quantity) < 0,
    cost: moneyOf(cost, quantity),
    unitCost: toDecimal(cost.total, 4),
  }
}

/** Every item that contains this one, nearest first. */
export async function whereUsedOf(itemId: number, today: string): Promise<WhereUsedRow[]> {
  const { items: items, lines } = await loadStructure(db, today, { above: [itemId] })
  const own = items.get(itemId)
  if (!own) {
    throw new Refusal('not-found', 'There is no such item.')
  }
  const compiled = compileStructure(lines)
  if (!compiled.ok) {
    throw new Refusal(
      'loop',
      `The bills run in a circle: ${compiled.error.path.map((id) => items.get(Number(id))!.code).join(' → ')}.`,
    )
  }
  return whereUsed(compiled.value, String(itemId)).map((row) => {
    const item = items.get(Number(row.item))!
    return {
      itemId: item.id,
      code: item.code,
      name: item.name,
      level: row.level,
      quantity: toText(row.quantity),
      symbol: own.symbol,
      parentSymbol: item.symbol,
    }
  })
}

/** How many sets of what is wanted the stock allows, what they take, and what the next would lack. */
export async function buildableNow(
  wanted: readonly { itemId: number; quantity: TypedQuantity; unit: string }[],
  today: string,
): Promise<BuildableAnswer> {
  const asked = await Promise.all(
    wanted.map(async (cut, index) => {
      const item = await loadMeasuredItem(db, cut.itemId, `wanted.${index}.itemId`)
      return {
        itemId: cut.itemId,
        quantity: readQuantity(item, cut.quantity, cut.unit || item.stockUnit, `wanted.${index}.quantity`, 'required')
          .quantity,
      }
    }),
  )
  return answerBuildable(await loadPartStructure(today, { below: asked.map((entry) => entry.itemId) }), asked)
}

export function answerBuildable(
  structure: PartStructure,
  asked: readonly { itemId: number; quantity: Ratio }[],
): BuildableAnswer {
  const answer = structure.buildable(asked)
  if (!answer.ok) {
    if (answer.error.code === 'unbounded') {
      throw new Refusal('invalid-input', 'Nothing limits this: it takes nothing.')
    }
    const item = structure.items.get(answer.error.item)!
    throw new Refusal(
      'invalid-input',
      `${item.code} ${item.name} has no bill in use and is not broken down from anything, so it cannot be made.`,
    )
  }
  const { sets, uses, next } = answer.value
  const describeUse = (use: (typeof uses)[number]): BuildableUse => {
    const item = structure.items.get(use.item)!
    return {
      itemId: item.id,
      code: item.code,
      name: item.name,
      symbol: item.symbol,
      need: toText(use.need),
      fromStock: toText(use.fromStock),
      made: toText(use.made),
      missing: toText(use.missing),
      free: item.free,
      comesFrom: item.comesFrom,
    }
  }
  return {
    sets: sets.toString(),
    uses: uses.filter((use) => !asked.some((entry) => String(entry.itemId) === use.item)).map(describeUse),
    next: next.map(describeUse),
    wanted: asked.map(({ itemId, quantity }) => {
      const item = structure.items.get(String(itemId))!
      return {
        itemId,
        code: item.code,
        symbol: item.symbol,
        quantity: toText(quantity),
        can: toText(quantity.mul(ratio(sets))),
        onHand: item.onHand,
      }
    }),
  }
}

/** The longest way from the first order to the finished item, and what one of it weighs. */
export async function leadAndMass(itemId: number, today: string, revision?: number): Promise<ItemFacts> {
  const structure = await loadPartStructure(today, { below: [itemId] }, revision ? [revision] : [])
  const codeOf = (id: number): string => structure.items.get(String(id))!.code
  const mass = structure.mass(itemId, await loadUnits(db))
  return {
    lead: structure.lead(itemId).map((step) => ({
      itemId: Number(step.item),
      code: codeOf(Number(step.item)),
      name: structure.items.get(step.item)!.name,
      leadDays: step.leadDays,
      begins: step.begins,
      ends: step.ends,
    })),
    mass: { known: toText(mass.known), unknown: mass.unknown.map(codeOf) },
  }
}
