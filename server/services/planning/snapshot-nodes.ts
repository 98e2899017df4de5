import { MINOR_PER_MAJOR } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { groupBy } from '~~/core/group-by'
import type { LotRule, PlanNode, Source } from '~~/core/planning/input'
import { stockLevelsOn, type MarkRule, type StockLevels } from '~~/core/stock/levels'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { columns, columnsWithTexts, type Reader } from '~~/server/database/client'
import { PICKABLE } from '~~/server/database/sql'
import { itemStockLevels } from '~~/server/database/schema'
import { itemOf, siteOf } from '~~/shared/planning/node-id'
import type { MeasuredItem } from '../catalogue/measured-items'
import type { LoadedStructure } from '../structure/load-structure'
import { atSites } from './planned-sites'
import { loadSources } from './snapshot-sources'
import { type Around, stepsOf } from './snapshot-context'

/**
 * Nodes in two steps: those of the main site can be made while the database is busy with what else is wanted. `wanted`:
 * nodes that something else in the snapshot is about.
 */
export interface NodeMaker {
  makeMain(): void
  makeAll(wanted: ReadonlySet<string>): PlanNode[]
}

/**
 * What may be held of every item at the main site, and elsewhere where anything of it lies, is wanted, comes, is kept
 * or goes through; how much is there, and where it comes from. All that is read of them is read here.
 */
export async function loadNodes(reader: Reader, structure: LoadedStructure, around: Around): Promise<NodeMaker> {
  const { items: items } = structure
  const { start, end, scope, places: index } = around
  const found = await columnsWithTexts(
    reader,
    2,
    3,
    sql`
      select b.item_id, p.site_id, l.number, l.expires_on, sum(b.on_hand - b.allocated)
      from balances b
      join places p on p.id = b.place_id
      left join lots l on l.id = b.lot_id
      where ${PICKABLE}
        and b.on_hand > b.allocated
        and ${atSites(sql`p.site_id`, scope.sites)}
      group by 1, 2, 3, 4
      order by 1, 3, 2`,
  )
  const [itemIds, siteIds] = found.numbers as [number[], number[]]
  const [lots, expiries, quantities] = found.texts as [string[], string[], string[]]
  const onHand = groupBy(
    itemIds.map((itemId, n): Lying => ({
      node: index.nodeAt(itemId, siteIds[n]!),
      lot: lots[n] || null,
      expiresOn: expiries[n] || null,
      quantity: ratio(quantities[n]!),
    })),
    (entry) => entry.node,
  )
  const marks = groupBy(await reader.select().from(itemStockLevels), (rule) => rule.itemId)
  const worth = await loadWorth(reader)
  const sourcesOf = await loadSources(reader, structure, around)
  const onlyPhantom = phantomsOf(structure)

  const none: readonly (MarkRule & { itemId: number })[] = []
  const nodeOf = (item: MeasuredItem, area: number): PlanNode => {
    const id = index.inArea(item.id, area)
    const isMain = area === index.areas.main
    const goesThrough = (item.source === 'kit' && item.kitPolicy !== 'sealed') || onlyPhantom.has(item.id)
    const [source, ...others] = sourcesOf(item, area, goesThrough)
    const own = marks.get(item.id) ?? none
    const levelsOn = (day: string): StockLevels => stockLevelsAt(item, own, index.areas.sitesOf(area), isMain, day)
    const safetyOn = (day: string): number => {
      if (item.status !== 'active') {
        return 0
      }
      const usual = isMain ? item.safetyStock : null
      return stepsOf(item, ratio((own.length > 0 ? levelsOn(day).safetyStock : usual) ?? '0'))
    }
    const perStep = (worth.get(item.id) ?? 0) * Number(item.finestStep)
    const rule = isMain ? ruleOf(item, perStep, source!) : fillUp(item, levelsOn(start))
    // An open kit is packed at the table: what lies packed serves nobody.
    const stock = item.source === 'kit' && item.kitPolicy === 'open' ? [] : lotsOf(onHand.get(id) ?? [])
    return {
      id,
      safety: safetyOn(start),
      seasons: seasonsOf(own, start, end, safetyOn),
      source: goesThrough && source?.kind === 'make' ? { ...source, isPassThrough: true } : source!,
      onHand: stock.map((s) => ({ lot: s.lot, quantity: stepsOf(item, s.quantity), expiresOn: s.expiresOn })),
      rule,
      pullInDays: item.pullInDays ?? undefined,
      worth: perStep > 0 ? perStep : undefined,
      others: others.length > 0 ? others : undefined,
    }
  }
  const nodes: PlanNode[] = []
  const known = new Set<string>()
  const queue: string[] = []
  const add = (item: MeasuredItem | undefined, area: number): void => {
    const id = item && index.inArea(item.id, area)
    if (!item || id === undefined || item.kind !== 'stocked' || known.has(id)) {
      return
    }
    known.add(id)
    const node = nodeOf(item, area)
    nodes.push(node)
    if (area !== index.areas.main || node.source.kind === 'move') {
      queue.push(...leadsTo(node.source))
    }
  }
  return {
    makeMain() {
      for (const item of items.values()) {
        add(item, index.areas.main)
      }
    },
    makeAll(wanted) {
      for (const list of [onHand.keys(), wanted]) {
        for (const id of list) {
          if (id !== null) {
            queue.push(id)
          }
        }
      }
      for (const rule of [...marks.values()].flat()) {
        const id = rule.siteId === null ? null : index.nodeAt(rule.itemId, rule.siteId)
        if (id !== null) {
          queue.push(id)
        }
      }
      for (let entry = queue.pop(); entry !== undefined; entry = queue.pop()) {
        add(items.get(itemOf(entry)), siteOf(entry) ?? index.areas.main)
      }
      return nodes
    },
  }
}

const leadsTo = (source: Source): readonly string[] => {
  if (source.kind === 'make') {
    return [...source.components, ...(source.byProducts ?? [])].map((part) => part.node)
  }
  if (source.kind === 'break down') {
    return [source.from, ...source.outputs.map((o) => o.node)]
  }
  if (source.kind === 'move') {
    return [source.from]
  }
  return []
}

interface Lying {
  readonly node: string | null
  readonly lot: string | null
  readonly expiresOn: string | null
  readonly quantity: Ratio
}

/** Lots of several sites of an area, each once. */
function lotsOf(onHand: readonly Lying[]): readonly Lying[] {
  return onHand.length < 2
    ? onHand
    : [...groupBy(onHand, (entry) => `${entry.lot ?? ''}|${entry.expiresOn ?? ''}`).values()].map((own) => ({
        ...own[0]!,
        quantity: own.reduce((sum, entry) => sum.add(entry.quantity), ZERO),
      }))
}

const NO_MARKS: StockLevels = { safetyStock: null, reorderPoint: null, targetStock: null, maximumStock: null }

/**
 * The marks that an area keeps on a day. The item's own hold at the main site; what is said of another site is kept
 * there, and of several sites that share their stock each keeps its own.
 */
function stockLevelsAt(
  item: MeasuredItem,
  rules: readonly (MarkRule & { itemId: number })[],
  sites: readonly number[],
  isMain: boolean,
  day: string,
): StockLevels {
  const [first] = sites
  return sites.reduce((sum, site) => {
    const found =
      isMain && site === first
        ? stockLevelsOn({ ...NO_MARKS, safetyStock: item.safetyStock }, rules, site, day)
        : stockLevelsOn(
            NO_MARKS,
            rules.filter((rule) => rule.siteId === site),
            site,
            day,
          )
    const add = (mark: keyof StockLevels): string | null =>
      found[mark] === null ? sum[mark] : toText(ratio(found[mark]!).add(ratio(sum[mark] ?? '0')))
    return {
      safetyStock: add('safetyStock'),
      reorderPoint: add('reorderPoint'),
      targetStock: add('targetStock'),
      maximumStock: add('maximumStock'),
    }
  }, NO_MARKS)
}

/** A site that has a reorder point and something to fill up to is filled up. */
function fillUp(item: MeasuredItem, { reorderPoint, maximumStock, targetStock }: StockLevels): LotRule | undefined {
  const upTo = targetStock ?? maximumStock
  return reorderPoint === null || upTo === null
    ? undefined
    : { kind: 'up to', reorderPoint: stepsOf(item, ratio(reorderPoint)), maximum: stepsOf(item, ratio(upTo)) }
}

/** Days on which the safety stock is another than on the first. */
function seasonsOf(
  rules: readonly { readonly fromOn: string | null }[],
  start: string,
  end: string,
  safetyOn: (day: string) => number,
): PlanNode['seasons'] {
  if (!rules.some((rule) => rule.fromOn !== null)) {
    return undefined
  }
  const first = safetyOn(start)
  const seasons: { first: string; last: string; safety: number }[] = []
  for (let day = toDay(start); day <= toDay(end); day++) {
    const iso = toIso(day)
    const safety = safetyOn(iso)
    const open = seasons.at(-1)
    if (open && open.last === toIso(day - 1) && open.safety === safety) {
      open.last = iso
    } else if (safety !== first) {
      seasons.push({ first: iso, last: iso, safety })
    }
  }
  return seasons.length > 0 ? seasons : undefined
}

function ruleOf(item: MeasuredItem, perStep: number, source: Source): LotRule | undefined {
  const steps = (amount: string | null): number => stepsOf(item, ratio(amount ?? '0'))
  const cost = Number(item.orderCost ?? '0') * MINOR_PER_MAJOR
  const yearly = (perStep * Number(item.holdingPercent ?? '20')) / 100
  switch (item.orderRule) {
    case 'fixed':
      return item.usualOrder === null ? undefined : { kind: 'fixed', quantity: Math.max(1, steps(item.usualOrder)) }
    case 'cover':
      return { kind: 'cover', days: item.coverDays ?? 1 }
    case 'up to':
      return { kind: 'up to', reorderPoint: steps(item.reorderPoint), maximum: steps(item.maximumStock) }
    // Without a value there is nothing to weigh an order's cost against.
    case 'economic':
      return yearly > 0 ? { kind: 'economic', orderCost: cost, holdingCost: yearly } : undefined
    case 'least cost':
      return yearly > 0
        ? {
            kind: 'least cost',
            orderCost: cost,
            holdingCost: yearly / 365,
            ...(source.kind === 'buy' && source.prices ? { tiers: source.prices } : {}),
          }
        : undefined
    default:
      return undefined
  }
}

/** What one stock unit is worth in minor units: what it stands at, else its standard. */
async function loadWorth(reader: Reader): Promise<Map<number, number>> {
  const [ids, worths] = await columns(
    reader,
    2,
    sql`
      select
        i.id,
        coalesce(
          h.value / nullif(h.quantity, 0), i.standard_cost * power(10, (select minor_digits from company)), 0
        )
      from items i
      left join (
        select item_id, sum(value)::numeric as value, sum(quantity) as quantity from holdings group by 1
      ) h on h.item_id = i.id`,
  )
  return new Map(ids!.map((id, index) => [id, worths![index]!]))
}

/** Items that every bill which names them says are phantoms. */
function phantomsOf({ lines }: LoadedStructure): ReadonlySet<number> {
  return new Set(
    [...groupBy(lines, (line) => Number(line.child))]
      .filter(([, own]) => own.every((line) => line.phantom))
      .map(([child]) => child),
  )
}
