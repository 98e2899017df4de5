import { describe, expect, it } from 'vitest'
import { byProductId, needId, orderId, orderOfNeed, orderOfSupply } from './peg-ids'

describe('the ids of pegs', () => {
  const order = orderId('7@2', 3)
  it('an order is known by its need and by what it gives beside', () => {
    expect([orderOfNeed(needId(order, '9@2')), orderOfSupply(byProductId(order, '8'))]).toEqual([order, order])
  })
  it.each(['sales:12', 'purchase:4', 'build:5:9', ''])('“%s”, which is of no order, is itself', (id) => {
    expect([orderOfNeed(id), orderOfSupply(id)]).toEqual([id, id])
  })
})
