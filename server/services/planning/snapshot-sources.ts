import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import type { Component, Multiple, PriceStep, Source } from '~~/core/planning/input'
import { rateOn, type PriceTier } from '~~/core/pricing'
import { needOf } from '~~/core/structure/lines'
import { convert } from '~~/core/units/graph'
import { ONE, parts, ratio, toSteps, upwards, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import type { MeasuredItem } from '../catalogue/measured-items'
import type { LoadedStructure } from '../structure/load-structure'
import type { BoundLine } from '../structure/bind-structure'
import { loadRecipes, type BoundRecipe } from '../workshop/break-downs'
import { stepsOf, type Around } from './snapshot-context'

interface TermsRow {
  itemId: number
  supplierId: number
  calendarId: number | null
  currencyId: number | null
  unit: string
  minimum: string
  multiple: string
  leadDays: number
  price: string
  tiers: PriceTier[]
}

/**
 * Where an item comes from at an area, the ways that count first.
 *
 * At home by its own source. Elsewhere it is moved along the quickest way from home; where none leads there, it is
 * bought and made there too. What is packed at the table, and a phantom, is put together wherever it is wanted.
 */
export async function loadSources(
  reader: Reader,
  structure: LoadedStructure,
  { scope, places, start }: Around,
): Promise<(item: MeasuredItem, area: number, inPlace: boolean) => readonly Source[]> {
  const { items: items, boms } = structure
  const heeded = (site: number): string | null => (scope.makingHeedsCalendar ? places.calendarOf(site) : null)
  const terms = groupBy(
    await rows<TermsRow>(
      reader,
      sql`
        select
          t.item_id as "itemId", t.supplier_id as "supplierId", s.calendar_id as "calendarId",
          s.currency_id as "currencyId", t.unit, t.minimum, t.multiple, t.lead_days as "leadDays", t.price,
          t.tiers
        from supplier_terms t
        join suppliers s on s.id = t.supplier_id and not s.retired
        order by t.item_id, t.rank, t.id`,
    ),
    (t) => t.itemId,
  )
  const rates = groupBy(
    await rows<{ currencyId: number; fromOn: string; rate: string }>(
      reader,
      sql`select currency_id as "currencyId", from_on as "fromOn", rate from exchange_rates order by from_on`,
    ),
    (row) => row.currencyId,
  )
  const [{ digits } = { digits: 2 }] = await rows<{ digits: number }>(
    reader,
    sql`select minor_digits as digits from company`,
  )
  const recipes = [...(await loadRecipes(reader)).values()]
  const lines = groupBy(structure.lines, (line) => Number(line.parent))
  const given = groupBy(
    await rows<{ bomId: number; itemId: number; numerator: string; denominator: string; unit: string }>(
      reader,
      sql`select bom_id as "bomId", item_id as "itemId", numerator, denominator, unit from bom_by_products`,
    ),
    (row) => row.bomId,
  )
  const known = new Map<Ratio, Known[]>()
  const unbound = new Set(structure.unbound.map((u) => u.itemId))

  const buying = (item: MeasuredItem, term: TermsRow): Source | null => {
    const unit = convert(item.measure.graph, ONE, term.unit, item.stockUnit)
    if (!unit.ok) {
      return null
    }
    const inSteps = unit.value.div(item.measure.finestStep)
    const multiple = asMultiple(ratio(term.multiple).equals(ZERO) ? ONE : inSteps.mul(ratio(term.multiple)))
    const rate =
      term.currencyId === null ? 1 : Number((rateOn(rates.get(term.currencyId) ?? [], start) ?? ONE).valueOf())
    const tiers = term.tiers.filter((tier) => (tier.fromOn ?? start) <= start && start <= (tier.untilOn ?? start))
    const price = (from: number, text: string): PriceStep => ({
      from,
      price: (Number(text) * 10 ** digits * rate) / Number(inSteps.valueOf()),
    })
    return {
      kind: 'buy',
      supplier: String(term.supplierId),
      minimum: Number(upwards(inSteps.mul(ratio(term.minimum)))),
      multiple,
      ...(item.maximumOrder === null ? {} : { maximum: stepsOf(item, ratio(item.maximumOrder)) }),
      leadDays: term.leadDays,
      calendar: scope.buyingHeedsCalendar ? String(term.calendarId ?? places.companyCalendar) : null,
      prices: [
        price(0, term.price),
        ...tiers.map((tier) => price(Number(upwards(inSteps.mul(ratio(tier.fromQuantity)))), tier.price)),
      ].sort((a, b) => a.from - b.from),
    }
  }
  const sizing = (item: MeasuredItem, area: number): Sizing => ({
    leadDays: item.leadDays,
    calendar: heeded(area),
    ...(item.maximumOrder === null ? {} : { maximum: stepsOf(item, ratio(item.maximumOrder)) }),
  })

  const brokenDown = (item: MeasuredItem, at: At, area: number): Source[] =>
    recipes
      .filter((r) => r.outputs.some((o) => o.item.id === item.id))
      .map((recipe) => breakingDown(recipe, at, sizing(item, area)))
  const made = (item: MeasuredItem, at: At, area: number): Source | null => {
    const bom = boms.get(item.id)
    if (!bom) {
      return null
    }
    const byProducts = (given.get(bom.id) ?? []).flatMap((row) => {
      const part = byProductOf(item, items.get(row.itemId), row, bom.batch, at)
      return part ? [part] : []
    })
    return {
      kind: 'make',
      structure: String(bom.id),
      components: componentsOf(item, lines.get(item.id) ?? [], items, at, known),
      ...(byProducts.length > 0 ? { byProducts } : {}),
      ...sizing(item, area),
    }
  }
  const bought = (item: MeasuredItem): readonly Source[] => {
    const known = terms.get(item.id) ?? []
    const sources = known.flatMap((term) => buying(item, term) ?? [])
    return sources.length > 0 ? sources : [{ kind: 'none', reason: known.length > 0 ? 'no conversion' : 'no source' }]
  }
  const own = (measuredItem: MeasuredItem, area: number): readonly Source[] => {
    const at: At = (item) => places.inArea(item, area)
    const isMade = measuredItem.source === 'made' || measuredItem.source === 'kit'
    if (unbound.has(measuredItem.id) && (isMade || boms.has(measuredItem.id))) {
      return [{ kind: 'none', reason: 'no conversion' }]
    }
    if (isMade) {
      return [made(measuredItem, at, area) ?? { kind: 'none', reason: 'no BOM' }]
    }
    if (measuredItem.source === 'bought') {
      return bought(measuredItem)
    }
    const broken = brokenDown(measuredItem, at, area)
    if (measuredItem.source === 'broken down') {
      return broken.length > 0 ? broken : [{ kind: 'none', reason: 'no source' }]
    }
    // Moved from another site: there it comes by whatever way is known of it.
    const making = made(measuredItem, at, area)
    if (making) {
      return [making]
    }
    if (broken.length > 0) {
      return broken
    }
    return bought(measuredItem)
  }
  const { areas } = places
  return (item, area, inPlace) => {
    if (item.status !== 'active') {
      return [{ kind: 'none', reason: 'retired' }]
    }
    const isMoved = item.source === 'moved from another site'
    const home = isMoved && item.fromSiteId !== null ? areas.areaOf(item.fromSiteId) : areas.main
    if (home === undefined) {
      return [{ kind: 'none', reason: 'no source' }]
    }
    if (area === home || inPlace) {
      return own(item, area)
    }
    const source_ = areas.routesFrom(home).get(area)
    if (source_) {
      return [
        {
          kind: 'move',
          from: places.inArea(item.id, areas.areaOf(source_.from)!),
          route: String(source_.id),
          leadDays: source_.days,
          calendar: heeded(source_.from),
        },
      ]
    }
    return isMoved
      ? [{ kind: 'move', from: places.inArea(item.id, home), leadDays: item.leadDays, calendar: heeded(home) }]
      : own(item, area)
  }
}

type At = (item: number | string) => string
interface Sizing {
  maximum?: number
  leadDays: number
  calendar: string | null
}

function breakingDown(recipe: BoundRecipe, at: At, sizing: Sizing): Source {
  const outputs = recipe.outputs.map((o) => ({
    node: at(o.item.id),
    quantity: Number(toSteps(o.quantity, o.item.measure.finestStep, 'recorded').steps),
  }))
  return {
    kind: 'break down',
    recipe: String(recipe.id),
    from: at(recipe.bulk.id),
    take: stepsOf(recipe.bulk, recipe.take),
    outputs,
    ...sizing,
  }
}

const asMultiple = (amount: Ratio): Multiple => {
  const { n, d } = parts(amount)
  return { numerator: n.toString(), denominator: d.toString() }
}

type Shares = Pick<Component, 'numerator' | 'fixedNumerator' | 'denominator'>
interface Known {
  readonly line: BoundLine
  readonly parentStep: Ratio
  readonly step: Ratio
  readonly shares: Shares
}

/**
 * Steps of each component for one step of the parent; lines of the same component and offset are one, so that it is
 * rounded once.
 *
 * Bills say the same few ratios over and over (the same objects): what is `known` is looked up by its per.
 */
function componentsOf(
  parent: MeasuredItem,
  lines: readonly BoundLine[],
  items: ReadonlyMap<number, MeasuredItem>,
  at: At,
  known: Map<Ratio, Known[]>,
): Component[] {
  const groups = lines.every((line, index) => lines.findIndex((entry) => entry.child === line.child) === index)
    ? lines.map((line) => [line])
    : [...groupBy(lines, (line) => `${line.child} ${line.offsetDays ?? 0}`).values()]
  const parentStep = parent.measure.finestStep
  return groups.map((own) => {
    const [line] = own as [BoundLine]
    const step = items.get(Number(line.child))!.measure.finestStep
    const before =
      own.length > 1
        ? undefined
        : known
            .get(line.per)
            ?.find(
              (entry) =>
                entry.parentStep === parentStep &&
                entry.step === step &&
                entry.line.fixed === line.fixed &&
                entry.line.scrap === line.scrap &&
                entry.line.outputYield === line.outputYield,
            )
    const shares =
      before?.shares ??
      over(
        own.reduce((sum, entry) => sum.add(needOf({ ...entry, fixed: ZERO }, parentStep)), ZERO).div(step),
        own.reduce((sum, entry) => sum.add(entry.fixed), ZERO).div(step),
      )
    if (!before && own.length === 1) {
      const list = known.get(line.per) ?? []
      if (list.length < 16) {
        list.push({ line, parentStep, step, shares })
      }
      known.set(line.per, list)
    }
    return line.offsetDays
      ? { node: at(line.child), ...shares, offsetDays: line.offsetDays }
      : {
          node: at(line.child),
          numerator: shares.numerator,
          fixedNumerator: shares.fixedNumerator,
          denominator: shares.denominator,
        }
  })
}

/** What a whole build gives beside, for one step of what it makes: a by-product is named for a batch. */
function byProductOf(
  parent: MeasuredItem,
  item: MeasuredItem | undefined,
  row: { numerator: string; denominator: string; unit: string },
  batch: Ratio,
  at: At,
): Component | null {
  const amount =
    item && convert(item.measure.graph, ratio(row.numerator).div(ratio(row.denominator)), row.unit, item.stockUnit)
  if (!item || !amount?.ok) {
    return null
  }
  return {
    node: at(item.id),
    ...over(amount.value.div(batch).mul(parent.measure.finestStep).div(item.measure.finestStep), ZERO),
  }
}

function over(per: Ratio, fixed: Ratio): Shares {
  const denominator = parts(fixed).d * parts(per).d
  return {
    numerator: (parts(per).n * (denominator / parts(per).d)).toString(),
    fixedNumerator: (parts(fixed).n * (denominator / parts(fixed).d)).toString(),
    denominator: denominator.toString(),
  }
}
