import fc from 'fast-check'
import { toDay, toIso } from '~~/core/calendar/days'
import type { LotRule, PlanInput, PlanNode, Source } from '~~/core/planning/input'

const START = toDay('2026-10-05')
const DAYS = 28
const iso = (offset: number): string => toIso(START + offset)
const ratio = fc
  .record({ numerator: fc.integer({ min: 1, max: 4 }), denominator: fc.integer({ min: 1, max: 3 }) })
  .map(({ numerator, denominator }) => ({ numerator: String(numerator), denominator: String(denominator) }))

const rule: fc.Arbitrary<LotRule> = fc.oneof(
  fc.constant<LotRule>({ kind: 'exact' }),
  fc.record({ kind: fc.constant('fixed' as const), quantity: fc.integer({ min: 1, max: 12 }) }),
  fc.record({ kind: fc.constant('cover' as const), days: fc.integer({ min: 1, max: 12 }) }),
  fc.record({
    kind: fc.constant('up to' as const),
    reorderPoint: fc.integer({ min: 0, max: 8 }),
    maximum: fc.integer({ min: 1, max: 30 }),
  }),
  fc.record({
    kind: fc.constant('economic' as const),
    orderCost: fc.integer({ min: 1, max: 20 }),
    holdingCost: fc.integer({ min: 1, max: 9 }),
  }),
  fc.record({
    kind: fc.constant('least cost' as const),
    orderCost: fc.integer({ min: 1, max: 30 }),
    holdingCost: fc.integer({ min: 1, max: 3 }),
    tiers: fc.uniqueArray(fc.record({ from: fc.integer({ min: 0, max: 20 }), price: fc.integer({ min: 1, max: 9 }) }), {
      selector: (tier) => tier.from,
      maxLength: 3,
    }),
  }),
)

const sizing = fc.record({
  minimum: fc.integer({ min: 0, max: 9 }),
  multiple: fc.oneof(fc.constant({ numerator: '1', denominator: '1' }), ratio),
  maximum: fc.option(fc.integer({ min: 4, max: 25 }), { nil: undefined }),
  leadDays: fc.integer({ min: 0, max: 6 }),
  calendar: fc.constantFrom(null, 'office'),
})

const piece = fc.record({
  lots: fc.array(
    fc.record({
      quantity: fc.integer({ min: 1, max: 12 }),
      until: fc.option(fc.integer({ min: 0, max: DAYS }), { nil: null }),
    }),
    { maxLength: 2 },
  ),
  safety: fc.integer({ min: 0, max: 4 }),
  season: fc.option(
    fc.record({
      first: fc.integer({ min: 0, max: DAYS }),
      length: fc.integer({ min: 0, max: 10 }),
      safety: fc.integer({ min: 0, max: 9 }),
    }),
    { nil: null },
  ),
  rule: fc.option(rule, { nil: undefined }),
  pullInDays: fc.option(fc.integer({ min: 0, max: 8 }), { nil: undefined }),
  sizing,
  kind: fc.constantFrom('buy', 'make', 'make', 'break down', 'move', 'none', 'through'),
  parts: fc.array(fc.record({ to: fc.nat(5), per: ratio, fixed: fc.nat(2), offset: fc.nat(3) }), {
    minLength: 1,
    maxLength: 3,
  }),
  /** Whom it gives something beside, whether it is used there or above it: circles too. */
  gift: fc.option(fc.record({ to: fc.nat(5), per: ratio, fixed: fc.nat(2) }), { nil: null }),
  take: fc.integer({ min: 1, max: 3 }),
  gives: fc.integer({ min: 1, max: 8 }),
})

/** A small network in which every rule, source and setting turns up; never a loop. */
export const anyNetwork: fc.Arbitrary<PlanInput> = fc
  .record({
    pieces: fc.array(piece, { minLength: 1, maxLength: 6 }),
    /** Numbers and text, in whatever order. */
    ids: fc.shuffledSubarray(['2', '10', '9', '100', 'n2', 'n10'], { minLength: 6 }),
    demands: fc.array(
      fc.record({
        to: fc.nat(5),
        day: fc.integer({ min: -3, max: DAYS + 3 }),
        quantity: fc.integer({ min: 1, max: 9 }),
        priority: fc.nat(2),
      }),
      { maxLength: 7 },
    ),
    supplies: fc.array(
      fc.record({
        to: fc.nat(5),
        day: fc.integer({ min: -3, max: DAYS + 5 }),
        quantity: fc.integer({ min: 1, max: 12 }),
        earliest: fc.option(fc.integer({ min: -3, max: DAYS + 5 }), { nil: null }),
      }),
      { maxLength: 5 },
    ),
    fixed: fc.array(
      fc.record({
        to: fc.nat(5),
        release: fc.integer({ min: -1, max: DAYS }),
        after: fc.nat(5),
        quantity: fc.integer({ min: 1, max: 9 }),
      }),
      { maxLength: 2 },
    ),
    pullIn: fc.boolean(),
    keepSafety: fc.boolean(),
    closed: fc.nat(DAYS),
  })
  .map(({ pieces, ids, demands, supplies, fixed, pullIn, keepSafety, closed }): PlanInput => {
    const id = (index: number): string => ids[index % pieces.length]!
    const nodes = pieces.map((p, index): PlanNode => {
      const below = [...new Map(p.parts.map((part) => [part.to, part])).values()].filter(
        (part) => part.to > index && part.to < pieces.length,
      )
      // A multiple that falls between steps rounds up, and could seem to bring more than it does: at the least cost
      // only whole ones are tried.
      const ordered =
        p.rule?.kind === 'least cost' ? { ...p.sizing, multiple: { ...p.sizing.multiple, denominator: '1' } } : p.sizing
      const leaf: Source = { kind: 'buy', supplier: 's', ...ordered }
      const source = ((): Source => {
        if (p.kind === 'none') {
          return { kind: 'none', reason: 'no source' }
        }
        if (p.kind === 'buy' || below.length === 0) {
          return leaf
        }
        const parts = below.map((part) => ({
          node: id(part.to),
          ...part.per,
          fixedNumerator: String(part.fixed),
          offsetDays: part.offset,
        }))
        const gift =
          p.gift && p.gift.to !== index && p.gift.to < pieces.length
            ? { node: id(p.gift.to), ...p.gift.per, fixedNumerator: String(p.gift.fixed) }
            : null
        if (p.kind === 'move') {
          return { kind: 'move', from: id(below[0]!.to), ...ordered }
        }
        if (p.kind === 'break down') {
          return {
            kind: 'break down',
            recipe: 'r',
            from: id(below[0]!.to),
            take: p.take,
            outputs: [{ node: id(index), quantity: p.gives }, ...(gift ? [{ node: gift.node, quantity: p.take }] : [])],
            leadDays: ordered.leadDays,
            calendar: ordered.calendar,
            minimum: ordered.minimum,
          }
        }
        if (p.kind === 'through') {
          return {
            kind: 'make',
            structure: 'b',
            components: parts,
            isPassThrough: true,
            leadDays: 3,
            calendar: null,
            minimum: 5,
          }
        }
        return { kind: 'make', structure: 'b', components: parts, byProducts: gift ? [gift] : [], ...ordered }
      })()
      return {
        id: id(index),
        safety: p.safety,
        rule: p.rule,
        pullInDays: p.pullInDays,
        source,
        seasons: p.season
          ? [{ first: iso(p.season.first), last: iso(p.season.first + p.season.length), safety: p.season.safety }]
          : undefined,
        onHand: p.lots.map((lot, i) => ({
          lot: `L${i}`,
          quantity: lot.quantity,
          expiresOn: lot.until === null ? null : iso(lot.until),
        })),
      }
    })
    return {
      start: iso(0),
      end: iso(DAYS - 1),
      calendars: { office: { weekdays: [true, true, true, true, true, false, false], closed: [iso(closed)] } },
      nodes,
      pullIn,
      keepSafety,
      demands: demands.map((d, i) => ({
        id: `d${i}`,
        node: id(d.to),
        day: iso(d.day),
        quantity: d.quantity,
        kind: 'sales order',
        label: '',
        priority: d.priority,
      })),
      supplies: supplies.map((s, i) => ({
        id: `s${i}`,
        node: id(s.to),
        day: iso(s.day),
        quantity: s.quantity,
        kind: 'purchase order',
        label: '',
        ...(s.earliest === null ? {} : { earliest: iso(s.earliest) }),
      })),
      fixed: fixed.map((f, i) => ({
        id: `f${i}`,
        node: id(f.to),
        release: iso(f.release),
        due: iso(f.release + f.after),
        quantity: f.quantity,
      })),
    }
  })
