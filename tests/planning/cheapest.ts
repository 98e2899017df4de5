import type { LotRule } from '~~/core/planning/input'

/**
 * The least cost by trying every size on every day that needs something; of equal ones the smaller order. Days counted
 * from the start.
 */
export function cheapest(
  needs: readonly { at: number; quantity: number }[],
  span: number,
  rule: Extract<LotRule, { kind: 'least cost' }>,
  minimum: number,
  up: (size: number) => number,
): Map<number, number> {
  const total = needs.reduce((sum, need) => sum + need.quantity, 0)
  const most = Math.max(total, minimum, ...(rule.tiers ?? []).map((tier) => tier.from))
  const askedFor = new Map<number, number>()
  for (let asked = most; asked >= 1; asked--) {
    askedFor.set(up(Math.max(asked, minimum)), Math.max(asked, minimum))
  }
  const sizes = [...askedFor.keys()].sort((a, b) => a - b)
  const priceOf = (size: number): number =>
    [...(rule.tiers ?? [])]
      .sort((a, b) => a.from - b.from)
      .reduce((price, tier, i) => (i === 0 || size >= tier.from ? tier.price : price), 0)
  const known = new Map<string, { cost: number; size: number }>()
  const best = (index: number, stock: number): number => {
    if (index === needs.length) {
      return 0
    }
    const key = `${index} ${stock}`
    if (known.has(key)) {
      return known.get(key)!.cost
    }
    const { at: position, quantity } = needs[index]!
    const found = { cost: Infinity, size: 0 }
    for (const size of [0, ...sizes]) {
      const left = stock + size - quantity
      if (left < 0 || left > total + sizes.at(-1)!) {
        continue
      }
      const cost =
        (size > 0 ? rule.orderCost + priceOf(size) * size : 0) +
        rule.holdingCost * left * ((needs[index + 1]?.at ?? span) - position) +
        best(index + 1, left)
      if (cost < found.cost) {
        Object.assign(found, { cost, size })
      }
    }
    known.set(key, found)
    return found.cost
  }
  best(0, 0)
  const plan = new Map<number, number>()
  let stock = 0
  for (const [index, { at: position, quantity }] of needs.entries()) {
    const { size } = known.get(`${index} ${stock}`)!
    if (size > 0) {
      plan.set(position, askedFor.get(size)!)
    }
    stock += size - quantity
  }
  return plan
}
