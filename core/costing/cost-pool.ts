import { nearestEven, ratio, ZERO, type Ratio } from '../units/exact'
import { issue, type Minor } from './moving-average'

/** How goods that leave are valued, by the usual names of the methods. */
export const COST_METHODS = [
  'moving average',
  'first in, first out',
  'last in, first out',
  'standard',
  'latest purchase',
] as const
/** One of the costing methods. */
export type CostMethod = (typeof COST_METHODS)[number]

/** Goods that came in together, or what is left of them; `at` counts up in the order of coming in. */
export interface CostLayer {
  readonly origin: string
  readonly on: string
  readonly at: number
  readonly quantity: Ratio
  readonly value: Minor
}

/**
 * What one item holds at one site, and what it is worth by its method.
 *
 * `unit` is what one stock unit is worth in minor units: the standard, or the latest purchase; null with the other
 * methods, and before there is one. `layers` stand in the order in which they came in, and only with the two methods
 * that go by it.
 */
export interface PoolState {
  readonly method: CostMethod
  readonly quantity: Ratio
  readonly value: Minor
  readonly unit: Ratio | null
  readonly layers: readonly CostLayer[]
}

/**
 * What a move does to money: the goods' value, what the other end gives or gets beside it, and what the rest of the
 * pool gains.
 */
export interface Amounts {
  readonly value: Minor
  readonly variance: Minor
  readonly restated: Minor
}

/** A pool before anything came in; `standard` counts with that method only. */
export const emptyPool = (method: CostMethod, standard: Ratio | null = null): PoolState => ({
  method,
  quantity: ZERO,
  value: 0n,
  unit: method === 'standard' ? standard : null,
  layers: [],
})

interface Part {
  readonly layer: CostLayer
  readonly quantity: Ratio
  readonly value: Minor
}

/**
 * An item's stock at a site as its moves go through it, one after the other.
 *
 * Units:  quantities in the stock unit; money in whole minor units, each amount rounded to the nearest (ties to even),
 *         and the last
 *         goods out take all that is left, so that value is neither made nor lost.
 * Errors: none of its own; `lacks` says beforehand whether a quantity is there.
 * Source: IAS 2.23 to 2.27 (first-in first-out, weighted average; standard cost as IAS 2.21); last-in first-out by
 *         common practice, IAS 2 does not allow it.
 */
export class CostPool {
  readonly method: CostMethod
  private quantity: Ratio
  private value: Minor
  private unit: Ratio | null
  private layers: CostLayer[]
  private last: number
  /** What each move took from which layers, so that it can be put back where it was. */
  private readonly taken = new Map<string, readonly Part[]>()
  private readonly prices: { readonly origin: string; readonly unit: Ratio }[] = []

  constructor(state: PoolState) {
    this.method = state.method
    this.quantity = state.quantity
    this.value = state.value
    this.unit = state.unit
    this.layers = [...state.layers]
    this.last = state.layers.reduce((last, layer) => Math.max(last, layer.at), 0)
    if (state.unit !== null) {
      this.prices.push({ origin: '', unit: state.unit })
    }
  }

  get state(): PoolState {
    return { method: this.method, quantity: this.quantity, value: this.value, unit: this.unit, layers: this.layers }
  }

  lacks(quantity: Ratio): boolean {
    return this.quantity.compare(quantity) < 0
  }

  /**
   * What a quantity would be worth as the pool stands; goods of a pool that holds nothing are worth the standard or
   * latest price, else nothing.
   */
  worthOf(quantity: Ratio): Minor {
    if (this.unit !== null) {
      return nearestEven(this.unit.mul(quantity))
    }
    return this.quantity.equals(ZERO) ? 0n : issue({ quantity: this.quantity, value: this.value }, quantity).value
  }

  /** Goods come in; the other end gave `given` for them. `sets` says that this is a purchase price. */
  enter(move: {
    readonly id: string
    readonly on: string
    readonly quantity: Ratio
    readonly given: Minor
    readonly isPurchasePrice: boolean
  }): Amounts {
    if (this.method === 'latest purchase' && (move.isPurchasePrice || this.unit === null)) {
      const unit = ratio(move.given).div(move.quantity)
      this.prices.push({ origin: move.id, unit })
      const restated = this.moveTo(this.quantity, unit)
      const value = this.moveTo(this.quantity.add(move.quantity), unit)
      return { value, variance: move.given - value, restated }
    }
    if (this.unit !== null) {
      const value = this.moveTo(this.quantity.add(move.quantity), this.unit)
      return { value, variance: move.given - value, restated: 0n }
    }
    if (this.inLayers) {
      this.layers.push({ origin: move.id, on: move.on, at: ++this.last, quantity: move.quantity, value: move.given })
    }
    this.quantity = this.quantity.add(move.quantity)
    this.value += move.given
    return { value: move.given, variance: 0n, restated: 0n }
  }

  /** Goods go out at what the method says they cost. */
  leave(move: { readonly id: string; readonly quantity: Ratio }): Amounts {
    return { value: this.takeOut(move.id, move.quantity, this.layerOrder()), variance: 0n, restated: 0n }
  }

  /**
   * A receipt is taken back; `given` is what the other end gave for it.
   *
   * Its own layer goes first, then the others in the order of the method. What the goods are worth now and what was
   * given differ by `variance`.
   */
  takeBack(move: {
    readonly id: string
    readonly of: string
    readonly quantity: Ratio
    readonly given: Minor
  }): Amounts {
    if (this.method === 'moving average') {
      const left = this.quantity.sub(move.quantity)
      const sound = left.equals(ZERO) ? this.value === move.given : this.value >= move.given
      if (sound) {
        this.quantity = left
        this.value -= move.given
        return { value: move.given, variance: 0n, restated: 0n }
      }
    }
    const own = this.layers.findIndex((layer) => layer.origin === move.of)
    const order = this.layerOrder()
    const value = this.takeOut(
      move.id,
      move.quantity,
      own < 0 ? order : [own, ...order.filter((index) => index !== own)],
    )
    return { value, variance: move.given - value, restated: this.forgetPrice(move.of) }
  }

  /** What left is put back, into the layers it came from; the other end gives back `given`. */
  putBack(move: {
    readonly id: string
    readonly of: string
    readonly on: string
    readonly quantity: Ratio
    readonly given: Minor
  }): Amounts {
    const parts = this.taken.get(move.of)
    if (!this.inLayers || parts === undefined) {
      return this.enter({ ...move, isPurchasePrice: false })
    }
    // What the layers gave and what is given back are one amount, unless the goods were re-valued on the way: the last
    // part takes the difference.
    const short = move.given - parts.reduce((sum, part) => sum + part.value, 0n)
    parts.forEach((part, index) => {
      const value = part.value + (index === parts.length - 1 ? short : 0n)
      const position = this.layers.findIndex((layer) => layer.origin === part.layer.origin)
      if (position >= 0) {
        this.layers[position] = {
          ...this.layers[position]!,
          quantity: this.layers[position]!.quantity.add(part.quantity),
          value: this.layers[position]!.value + value,
        }
      } else {
        this.layers.splice(this.placeOf(part.layer), 0, { ...part.layer, quantity: part.quantity, value })
      }
    })
    this.quantity = this.quantity.add(move.quantity)
    this.value += move.given
    return { value: move.given, variance: 0n, restated: 0n }
  }

  /** One stock unit is worth something else from now on; what the stock gains, or loses. */
  restate(unit: Ratio): Minor {
    return this.moveTo(this.quantity, unit)
  }

  private get inLayers(): boolean {
    return this.method === 'first in, first out' || this.method === 'last in, first out'
  }

  private moveTo(quantity: Ratio, unit: Ratio): Minor {
    const value = nearestEven(unit.mul(quantity))
    const gain = value - this.value
    this.quantity = quantity
    this.unit = unit
    this.value = value
    return gain
  }

  private forgetPrice(origin: string): Minor {
    if (this.method !== 'latest purchase') {
      return 0n
    }
    const index = this.prices.findIndex((price) => price.origin === origin)
    if (index < 0 || this.prices.length === 1) {
      return 0n
    }
    this.prices.splice(index, 1)
    return this.moveTo(this.quantity, this.prices.at(-1)!.unit)
  }

  private layerOrder(): number[] {
    const order = this.layers.map((_, index) => index)
    return this.method === 'last in, first out' ? order.reverse() : order
  }

  /** Where a layer that was used up stands again: before the first that came in after it. */
  private placeOf(layer: CostLayer): number {
    const later = this.layers.findIndex((candidate) => candidate.at > layer.at)
    return later < 0 ? this.layers.length : later
  }

  private takeOut(id: string, quantity: Ratio, order: readonly number[]): Minor {
    if (this.unit !== null) {
      return -this.moveTo(this.quantity.sub(quantity), this.unit)
    }
    if (!this.inLayers) {
      const { value, rest } = issue({ quantity: this.quantity, value: this.value }, quantity)
      this.quantity = rest.quantity
      this.value = rest.value
      return value
    }
    const parts = this.takeOutOfLayers(quantity, order)
    this.taken.set(id, parts)
    const value = parts.reduce((sum, part) => sum + part.value, 0n)
    this.quantity = this.quantity.sub(quantity)
    this.value -= value
    return value
  }

  private takeOutOfLayers(quantity: Ratio, order: readonly number[]): readonly Part[] {
    const parts: Part[] = []
    let left = quantity
    for (const index of order) {
      if (left.compare(ZERO) <= 0) {
        break
      }
      const layer = this.layers[index]!
      const part = layer.quantity.compare(left) < 0 ? layer.quantity : left
      const { value, rest } = issue(layer, part)
      parts.push({ layer, quantity: part, value })
      this.layers[index] = { ...layer, ...rest }
      left = left.sub(part)
    }
    if (left.compare(ZERO) > 0) {
      throw new Error(`More was taken from a pool than it holds: ${left.toString()} too much`)
    }
    this.layers = this.layers.filter((layer) => layer.quantity.compare(ZERO) > 0)
    return parts
  }
}
