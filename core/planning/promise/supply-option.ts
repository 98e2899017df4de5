/** So much of a node, wanted by somebody; `id` comes back with the answer. Finest steps. */
export interface PromiseRequest {
  readonly id: string
  readonly node: string
  readonly quantity: number
}

/** When a request can be met, and how; null where there is no way. */
export interface Promised {
  readonly id: string
  readonly on: string | null
  readonly options: readonly SupplyOption[]
}

/** So much of a node, there on a day; null where there is no way. Finest steps. */
interface There {
  readonly node: string
  readonly quantity: number
  readonly on: string | null
}

/** `ordered`: what must be ordered at once for it, by minimum, multiple and fixed quantity, where that is more. */
interface Got extends There {
  readonly leadDays: number
  readonly ordered?: number
}

/**
 * How a quantity can be there: what is free now or comes free by a day, what is bought or made for it, and what that
 * rests on.
 */
export type SupplyOption =
  | (There & { readonly kind: 'free'; readonly on: string })
  /**
   * `supply`: what brings it, where one thing does; `pulledInFrom`: the day on which that is due, where it must come
   * sooner than that.
   */
  | (There & {
      readonly kind: 'coming'
      readonly on: string
      readonly supply: string | null
      readonly pulledInFrom?: string
    })
  | (Got & { readonly kind: 'buy'; readonly on: string })
  | (Got & {
      readonly kind: 'make' | 'break down' | 'move'
      readonly begin: string | null
      readonly from: readonly SupplyOption[]
    })
  | (There & { readonly kind: 'none'; readonly on: null; readonly reason: string })
