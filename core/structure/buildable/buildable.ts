import { ratio, toSteps, upwards, ZERO, type Ratio } from '../../units/exact'
import type { Structure } from '..'

/** Bulk that is broken down: `take` of it gives all outputs at once. */
export interface BreakDown {
  readonly bulk: string
  readonly take: Ratio
  readonly outputs: readonly { readonly item: string; readonly quantity: Ratio }[]
}
export interface Wanted {
  readonly item: string
  readonly quantity: Ratio
}
/** Quantities in stock units. */
export interface Goods {
  readonly free: (item: string) => Ratio
  readonly finestStep: (item: string) => Ratio
}

/** What a number of sets takes of one item: from stock, and made or broken down beside it. */
export interface Use {
  readonly item: string
  readonly need: Ratio
  readonly fromStock: Ratio
  readonly made: Ratio
  readonly missing: Ratio
}
export interface Buildable {
  /** How many whole sets of what is wanted the stock allows. */
  readonly sets: bigint
  /** What these sets take. */
  readonly uses: readonly Use[]
  /** What one set more would need and is not there; never empty. */
  readonly next: readonly Use[]
}

/**
 * How many of several items, wanted together, can be made of what is free: sub-assemblies on hand are used first, the
 * rest is made or broken down, and what several of them share is counted once.
 *
 * Shape:  what is wanted is one set (10 of this and 5 of that); the answer counts whole sets. What is on hand of the
 *         wanted
 *         items themselves is not counted: the question is what can be made beside it.
 * Units:  stock units; what is made or broken down is rounded up to its finest step or to whole break-downs, once for
 *         the total.
 * Errors: `unbounded` where a set needs nothing; `not-made` names an item wanted that has neither bill nor break-down.
 * Cost:   one walk over what is below for each of about 2 log2(answer) trials.
 *
 * Other outputs of a break-down are not counted on, nor by-products and substitutes: the answer is what is sure.
 */
export function buildable(
  structure: Structure,
  wanted: readonly Wanted[],
  goods: Goods,
  breakDowns: readonly BreakDown[] = [],
):
  | { readonly ok: true; readonly value: Buildable }
  | {
      readonly ok: false
      readonly error: { readonly code: 'unbounded' } | { readonly code: 'not-made'; readonly item: string }
    } {
  const recipes = new Map<string, BreakDown>()
  for (const recipe of breakDowns) {
    for (const output of recipe.outputs) {
      if (!recipes.has(output.item)) {
        recipes.set(output.item, recipe)
      }
    }
  }
  const idle = wanted.find(({ item }) => !hasLines(structure, item) && !recipes.has(item))
  if (idle) {
    return { ok: false, error: { code: 'not-made', item: idle.item } }
  }
  const order = workOrder(structure, wanted, recipes)
  const trial = (sets: bigint): readonly Use[] => new Trial(structure, goods, recipes, wanted, sets).uses(order)
  const isThere = (uses: readonly Use[]): boolean => uses.every((use) => use.missing.equals(ZERO))
  let low = 0n
  let high = 1n
  while (isThere(trial(high))) {
    low = high
    high *= 2n
    if (high > MOST) {
      return { ok: false, error: { code: 'unbounded' } }
    }
  }
  while (high - low > 1n) {
    const middle = (low + high) / 2n
    if (isThere(trial(middle))) {
      low = middle
    } else {
      high = middle
    }
  }
  return {
    ok: true,
    value: {
      sets: low,
      uses: trial(low).filter((use) => !use.need.equals(ZERO)),
      next: trial(low + 1n).filter((use) => !use.missing.equals(ZERO)),
    },
  }
}
const MOST = 1_000_000_000_000n

const hasLines = (structure: Structure, item: string): boolean => {
  const index = structure.at.get(item)
  return index !== undefined && structure.first[index] !== structure.first[index + 1]
}

type Step =
  { readonly kind: 'item'; readonly item: string } | { readonly kind: 'break down'; readonly recipe: BreakDown }

/** Items and break-downs in an order in which whatever asks comes before what it asks of. */
function workOrder(
  structure: Structure,
  wanted: readonly Wanted[],
  recipes: ReadonlyMap<string, BreakDown>,
): readonly Step[] {
  const done = new Set<string | BreakDown>()
  const order: Step[] = []
  const visit = (start: string | BreakDown): void => {
    const stack: { at: string | BreakDown; left: (string | BreakDown)[] }[] = []
    const open = (index: string | BreakDown): void => {
      if (!done.has(index)) {
        done.add(index)
        stack.push({ at: index, left: typeof index === 'string' ? asksOf(structure, index, recipes) : [index.bulk] })
      }
    }
    open(start)
    while (stack.length > 0) {
      const top = stack.at(-1)!
      const next = top.left.pop()
      if (next !== undefined) {
        open(next)
      } else {
        order.push(typeof top.at === 'string' ? { kind: 'item', item: top.at } : { kind: 'break down', recipe: top.at })
        stack.pop()
      }
    }
  }
  for (const { item } of wanted) {
    visit(item)
  }
  return order.reverse()
}

function asksOf(structure: Structure, item: string, recipes: ReadonlyMap<string, BreakDown>): (string | BreakDown)[] {
  if (!hasLines(structure, item)) {
    const recipe = recipes.get(item)
    return recipe ? [recipe] : []
  }
  const index = structure.at.get(item)!
  return Array.from(
    structure.child.subarray(structure.first[index], structure.first[index + 1]),
    (child) => structure.items[child]!,
  )
}

/**
 * What so many sets take, worked out step by step: what is asked for comes from stock first, the rest is made or broken
 * down.
 */
class Trial {
  private readonly need = new Map<string, Ratio>()
  private readonly toMake = new Map<string, Ratio>()
  private readonly times = new Map<BreakDown, bigint>()

  constructor(
    private readonly structure: Structure,
    private readonly goods: Goods,
    private readonly recipes: ReadonlyMap<string, BreakDown>,
    wanted: readonly Wanted[],
    sets: bigint,
  ) {
    for (const { item, quantity } of wanted) {
      this.toMake.set(item, (this.toMake.get(item) ?? ZERO).add(quantity.mul(ratio(sets))))
    }
  }

  uses(order: readonly Step[]): readonly Use[] {
    return order.flatMap((step) => {
      if (step.kind === 'item') {
        return [this.useOf(step.item)]
      }
      this.askBulk(step.recipe)
      return []
    })
  }

  private askBulk(recipe: BreakDown): void {
    const count = this.times.get(recipe) ?? 0n
    if (count > 0n) {
      this.ask(recipe.bulk, recipe.take.mul(ratio(count)))
    }
  }

  private useOf(item: string): Use {
    const step = this.goods.finestStep(item)
    const needed = up(this.need.get(item) ?? ZERO, step)
    const toMake = this.toMake.get(item) ?? ZERO
    // What is wanted itself is made, whatever lies there; only what others ask of it may come from stock.
    const fromStock = least(needed, atLeastZero(this.goods.free(item)))
    const made = up(needed.sub(fromStock).add(toMake), step)
    const isMade = this.make(item, made)
    return {
      item,
      need: needed.add(toMake),
      fromStock,
      made: isMade ? made : ZERO,
      missing: isMade ? ZERO : made,
    }
  }

  /** Asks for what it takes to make so much; false where there is no way to make it. */
  private make(item: string, made: Ratio): boolean {
    if (hasLines(this.structure, item)) {
      if (!made.equals(ZERO)) {
        askLines(this.structure, item, made, (child, more) => this.ask(child, more))
      }
      return true
    }
    const recipe = this.recipes.get(item)
    if (recipe && !made.equals(ZERO)) {
      const output = recipe.outputs.find((candidate) => candidate.item === item)!
      const asks = upwards(made.div(output.quantity))
      const before = this.times.get(recipe) ?? 0n
      this.times.set(recipe, asks > before ? asks : before)
    }
    return recipe !== undefined
  }

  private ask(item: string, more: Ratio): void {
    this.need.set(item, (this.need.get(item) ?? ZERO).add(more))
  }
}

function askLines(structure: Structure, item: string, made: Ratio, ask: (item: string, more: Ratio) => void): void {
  const index = structure.at.get(item)!
  for (let line = structure.first[index]!; line < structure.first[index + 1]!; line++) {
    ask(structure.lines[line]!.child, structure.per.get(line).mul(made).add(structure.lines[line]!.fixed))
  }
}

const up = (amount: Ratio, step: Ratio): Ratio => toSteps(amount, step, 'required').quantity
const least = (a: Ratio, b: Ratio): Ratio => (a.compare(b) < 0 ? a : b)
const atLeastZero = (a: Ratio): Ratio => (a.compare(ZERO) < 0 ? ZERO : a)
