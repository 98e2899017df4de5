import { sql, type SQL } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar'
import { groupBy } from '~~/core/group-by'
import type { Component, LotRule, Multiple, PlanNode, PriceStep, Source } from '~~/core/planning'
import { rateOn, type PriceTier } from '~~/core/pricing'
import { marksOn } from '~~/core/stock'
import { needOf } from '~~/core/structure'
import { convert, ONE, parts, ratio, toSteps, upwards, ZERO, type Ratio } from '~~/core/units'
import { rows, type Reader } from '~~/server/database/client'
import { itemMarks } from '~~/server/database/schema'
import type { PlanScope } from '~~/shared/planning'
import type { Frame } from '../catalogue/frames'
import type { LoadedStructure } from '../structure/load-structure'
import { loadRecipes, type BoundRecipe } from '../workshop/break-downs'

interface TermsRow { itemId: number, supplierId: number, calendarId: number | null, currencyId: number | null, unit: string, minimum: string, multiple: string, leadDays: number, price: string, tiers: PriceTier[] }
interface Around { readonly start: string, readonly end: string, readonly scope: PlanScope, readonly calendar: string | null }

/** Whole finest steps of an amount in the stock unit; what is stored lies on a step already. */
export const stepsOf = (frame: Frame, amount: Ratio): number => Number(toSteps(amount, frame.measure.finestStep, 'required').steps)
export const atSites = (column: SQL, sites: readonly number[]): SQL => sites.length === 0 ? sql`true` : sql`${column} in (${sql.join(sites.map(site => sql`${site}`), sql`, `)})`

/** What may be held of every item, how much is there, and where it comes from. */
export async function loadNodes(reader: Reader, structure: LoadedStructure, around: Around): Promise<PlanNode[]> {
  const { frames } = structure
  const { start, end, scope } = around
  const lying = groupBy(await rows<{ itemId: number, lot: string | null, expiresOn: string | null, quantity: string }>(reader, sql`
    select b.item_id as "itemId", l.number as lot, l.expires_on as "expiresOn", sum(b.on_hand - b.allocated) as quantity from balances b join places p on p.id = b.place_id left join lots l on l.id = b.lot_id
    where b.status = 'available' and not p.closed_to_picking and b.on_hand > b.allocated and ${atSites(sql`p.site_id`, scope.sites)} group by 1, 2, 3 order by 1, 2`), b => b.itemId)
  const marks = groupBy(await reader.select().from(itemMarks), rule => rule.itemId)
  const [site] = await rows<{ id: number }>(reader, sql`select id from sites where ${atSites(sql`id`, scope.sites)} order by id limit 1`)
  const worth = await loadWorth(reader)
  const sourcesOf = await loadSources(reader, structure, around)
  const onlyPhantom = phantomsOf(structure)

  return [...frames.values()].filter(frame => frame.kind === 'stocked').map((frame): PlanNode => {
    const [source, ...others] = sourcesOf(frame)
    const handsThrough = source!.kind === 'make' && ((frame.source === 'kit' && frame.kitPolicy !== 'sealed') || onlyPhantom.has(frame.id))
    const own = { safetyStock: frame.safetyStock, reorderPoint: null, targetStock: null, maximumStock: null }
    const safetyOn = (day: string): number => frame.status === 'active' ? stepsOf(frame, ratio(marksOn(own, marks.get(frame.id) ?? [], site?.id ?? 0, day).safetyStock ?? '0')) : 0
    const perStep = (worth.get(frame.id) ?? 0) * Number(frame.finestStep)
    const rule = ruleOf(frame, perStep, source!)
    return {
      id: String(frame.id), safety: safetyOn(start), seasons: seasonsOf(marks.get(frame.id) ?? [], start, end, safetyOn), source: handsThrough && source?.kind === 'make' ? { ...source, handsThrough: true } : source!,
      // An open kit is packed at the table: what lies packed serves nobody.
      onHand: frame.source === 'kit' && frame.kitPolicy === 'open' ? [] : (lying.get(frame.id) ?? []).map(s => ({ lot: s.lot, quantity: stepsOf(frame, ratio(s.quantity)), expiresOn: s.expiresOn })),
      ...rule ? { rule } : {}, ...frame.pullInDays === null ? {} : { pullInDays: frame.pullInDays }, ...perStep > 0 ? { worth: perStep } : {}, ...others.length > 0 ? { others } : {},
    }
  })
}

/** Days on which the safety stock is another than on the first. */
function seasonsOf(rules: readonly { readonly fromOn: string | null }[], start: string, end: string, safetyOn: (day: string) => number): PlanNode['seasons'] {
  if (!rules.some(rule => rule.fromOn !== null)) return undefined
  const first = safetyOn(start)
  const seasons: { first: string, last: string, safety: number }[] = []
  for (let day = toDay(start); day <= toDay(end); day++) {
    const iso = toIso(day)
    const safety = safetyOn(iso)
    const open = seasons.at(-1)
    if (open && open.last === toIso(day - 1) && open.safety === safety) open.last = iso
    else if (safety !== first) seasons.push({ first: iso, last: iso, safety })
  }
  return seasons.length > 0 ? seasons : undefined
}

function ruleOf(frame: Frame, perStep: number, source: Source): LotRule | undefined {
  const steps = (amount: string | null): number => stepsOf(frame, ratio(amount ?? '0'))
  const cost = Number(frame.orderCost ?? '0') * 100
  const yearly = perStep * Number(frame.holdingPercent ?? '20') / 100
  switch (frame.orderRule) {
    case 'fixed': return frame.usualOrder === null ? undefined : { kind: 'fixed', quantity: Math.max(1, steps(frame.usualOrder)) }
    case 'cover': return { kind: 'cover', days: frame.coverDays ?? 1 }
    case 'up to': return { kind: 'up to', reorderPoint: steps(frame.reorderPoint), maximum: steps(frame.maximumStock) }
    // Without a value there is nothing to weigh an order's cost against.
    case 'economic': return yearly > 0 ? { kind: 'economic', orderCost: cost, holdingCost: yearly } : undefined
    case 'least cost': return yearly > 0 ? { kind: 'least cost', orderCost: cost, holdingCost: yearly / 365, ...source.kind === 'buy' && source.prices ? { tiers: source.prices } : {} } : undefined
    default: return undefined
  }
}

/** What one stock unit is worth in minor units: what it stands at, else its standard. */
async function loadWorth(reader: Reader): Promise<Map<number, number>> {
  const found = await rows<{ id: number, worth: string | null }>(reader, sql`
    select i.id, coalesce(h.value / nullif(h.quantity, 0), i.standard_cost * power(10, (select minor_digits from company)), 0) as worth
    from items i left join (select item_id, sum(value)::numeric as value, sum(quantity) as quantity from holdings group by 1) h on h.item_id = i.id`)
  return new Map(found.map(row => [row.id, Number(row.worth ?? 0)]))
}

/** Items that every bill which names them says are phantoms. */
function phantomsOf({ lines }: LoadedStructure): ReadonlySet<number> {
  return new Set([...groupBy(lines, line => Number(line.child))].filter(([, own]) => own.every(line => line.phantom)).map(([child]) => child))
}

/** Where an item comes from, the ways that count first. */
async function loadSources(reader: Reader, structure: LoadedStructure, { scope, calendar, start }: Around): Promise<(frame: Frame) => readonly Source[]> {
  const { frames, boms } = structure
  const own = scope.makingHeedsCalendar ? calendar : null
  const terms = groupBy(await rows<TermsRow>(reader, sql`
    select t.item_id as "itemId", t.supplier_id as "supplierId", s.calendar_id as "calendarId", s.currency_id as "currencyId", t.unit, t.minimum, t.multiple, t.lead_days as "leadDays", t.price, t.tiers from supplier_terms t join suppliers s on s.id = t.supplier_id and not s.retired order by t.item_id, t.rank, t.id`), t => t.itemId)
  const rates = groupBy(await rows<{ currencyId: number, fromOn: string, rate: string }>(reader, sql`select currency_id as "currencyId", from_on as "fromOn", rate from exchange_rates order by from_on`), row => row.currencyId)
  const [{ digits } = { digits: 2 }] = await rows<{ digits: number }>(reader, sql`select minor_digits as digits from company`)
  const recipes = [...(await loadRecipes(reader)).values()]
  const lines = groupBy(structure.lines, line => Number(line.parent))
  const given = groupBy(await rows<{ bomId: number, itemId: number, numerator: string, denominator: string, unit: string }>(reader, sql`select bom_id as "bomId", item_id as "itemId", numerator, denominator, unit from bom_by_products`), row => row.bomId)
  const unbound = new Set(structure.unbound.map(u => u.itemId))

  const buying = (frame: Frame, term: TermsRow): Source | null => {
    const unit = convert(frame.measure.graph, ONE, term.unit, frame.stockUnit)
    if (!unit.ok) return null
    const inSteps = unit.value.div(frame.measure.finestStep)
    const multiple = asMultiple(ratio(term.multiple).equals(ZERO) ? ONE : inSteps.mul(ratio(term.multiple)))
    const rate = term.currencyId === null ? 1 : Number((rateOn(rates.get(term.currencyId) ?? [], start) ?? ONE).valueOf())
    const tiers = term.tiers.filter(tier => (tier.fromOn ?? start) <= start && start <= (tier.untilOn ?? start))
    const price = (from: number, text: string): PriceStep => ({ from, price: Number(text) * 10 ** digits * rate / Number(inSteps.valueOf()) })
    return {
      kind: 'buy', supplier: String(term.supplierId), minimum: Number(upwards(inSteps.mul(ratio(term.minimum)))), multiple, ...frame.maximumOrder === null ? {} : { maximum: stepsOf(frame, ratio(frame.maximumOrder)) },
      leadDays: term.leadDays, calendar: term.calendarId === null || !scope.buyingHeedsCalendar ? null : String(term.calendarId),
      prices: [price(0, term.price), ...tiers.map(tier => price(Number(upwards(inSteps.mul(ratio(tier.fromQuantity)))), tier.price))].sort((a, b) => a.from - b.from),
    }
  }
  const sizing = (frame: Frame): { maximum?: number, leadDays: number, calendar: string | null } => ({ leadDays: frame.leadDays, calendar: own, ...frame.maximumOrder === null ? {} : { maximum: stepsOf(frame, ratio(frame.maximumOrder)) } })

  return (frame) => {
    if (frame.status !== 'active') return [{ kind: 'none', reason: 'retired' }]
    if (frame.source === 'made' || frame.source === 'kit') {
      if (unbound.has(frame.id)) return [{ kind: 'none', reason: 'no conversion' }]
      const bom = boms.get(frame.id)
      if (!bom) return [{ kind: 'none', reason: 'no BOM' }]
      const byProducts = (given.get(bom.id) ?? []).flatMap((row) => { const part = byProductOf(frame, frames.get(row.itemId), row, bom.batch); return part ? [part] : [] })
      return [{ kind: 'make', structure: String(bom.id), components: componentsOf(frame, lines.get(frame.id) ?? [], frames), ...byProducts.length > 0 ? { byProducts } : {}, ...sizing(frame) }]
    }
    if (frame.source === 'broken down') return recipes.filter(r => r.outputs.some(o => o.frame.id === frame.id)).map(recipe => breakingDown(recipe, sizing(frame))).concat(recipes.some(r => r.outputs.some(o => o.frame.id === frame.id)) ? [] : [{ kind: 'none', reason: 'no source' }])
    const known = terms.get(frame.id) ?? []
    const ways = known.flatMap(term => buying(frame, term) ?? [])
    return ways.length > 0 ? ways : [{ kind: 'none', reason: known.length > 0 ? 'no conversion' : 'no source' }]
  }
}

function breakingDown(recipe: BoundRecipe, sizing: { maximum?: number, leadDays: number, calendar: string | null }): Source {
  const outputs = recipe.outputs.map(o => ({ node: String(o.frame.id), quantity: Number(toSteps(o.quantity, o.frame.measure.finestStep, 'recorded').steps) }))
  return { kind: 'break down', recipe: String(recipe.id), from: String(recipe.bulk.id), take: stepsOf(recipe.bulk, recipe.take), outputs, ...sizing }
}

const asMultiple = (amount: Ratio): Multiple => { const { n, d } = parts(amount); return { numerator: n.toString(), denominator: d.toString() } }

/** Steps of each component for one step of the parent; lines of the same component and offset are one, so that it is rounded once. */
function componentsOf(parent: Frame, lines: LoadedStructure['lines'], frames: ReadonlyMap<number, Frame>): Component[] {
  return [...groupBy(lines, line => `${line.child} ${line.offsetDays ?? 0}`)].map(([, own]) => {
    const { child, offsetDays } = own[0]!
    const step = frames.get(Number(child))!.measure.finestStep
    const fixed = own.reduce((sum, line) => sum.add(line.fixed), ZERO).div(step)
    const per = own.reduce((sum, line) => sum.add(needOf({ ...line, fixed: ZERO }, parent.measure.finestStep)), ZERO).div(step)
    return { node: child, ...over(per, fixed), ...offsetDays ? { offsetDays } : {} }
  })
}

/** What a whole build gives beside, for one step of what it makes: a by-product is named for a batch. */
function byProductOf(parent: Frame, frame: Frame | undefined, row: { numerator: string, denominator: string, unit: string }, batch: Ratio): Component | null {
  const amount = frame && convert(frame.measure.graph, ratio(row.numerator).div(ratio(row.denominator)), row.unit, frame.stockUnit)
  if (!frame || !amount?.ok) return null
  return { node: String(frame.id), ...over(amount.value.div(batch).mul(parent.measure.finestStep).div(frame.measure.finestStep), ZERO) }
}

function over(per: Ratio, fixed: Ratio): Pick<Component, 'numerator' | 'fixedNumerator' | 'denominator'> {
  const denominator = parts(fixed).d * parts(per).d
  return { numerator: (parts(per).n * (denominator / parts(per).d)).toString(), fixedNumerator: (parts(fixed).n * (denominator / parts(fixed).d)).toString(), denominator: denominator.toString() }
}
