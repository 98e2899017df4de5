export interface Found {
  kind:
    | 'item'
    | 'sales order'
    | 'purchase order'
    | 'build'
    | 'break-down'
    | 'lot'
    | 'piece'
    | 'transfer'
    | 'stock count'
    | 'bin'
    | 'supplier'
    | 'customer'
  id: number
  code: string
  name: string
  /** The code that matched, where it is not the item's own, and the unit that it stands for. */
  by?: string | null
  unit?: string | null
}

export interface ChangeTold {
  readonly id: number
  readonly at: string
  readonly who: string
  readonly what: 'made' | 'changed' | 'taken away'
  readonly label: string
  readonly undone: boolean
  readonly undoes: boolean
  readonly together: boolean
  readonly lines: readonly { readonly field: string; readonly before: string; readonly after: string }[]
}

export interface SetPreview {
  readonly chosen: number
  /** Items that would change: before → after; at most two hundred of them. */
  readonly changes: readonly {
    readonly id: number
    readonly code: string
    readonly name: string
    readonly before: string
    readonly after: string
  }[]
  readonly changing: number
  readonly faults: readonly { readonly code: string; readonly detail: string }[]
  /** Items that would be retired while they are needed, and what for; at most two hundred. */
  readonly stillUsed: readonly { readonly code: string; readonly uses: string }[]
  readonly batchId: number | null
}

export interface TimelineRow {
  day: string
  kind: 'sales order' | 'purchase order' | 'build in' | 'build out' | 'break-down' | 'transfer'
  label: string
  link: string
  change: string
  balance: string
}

export interface ItemRow {
  id: number
  code: string
  name: string
  group: string
  status: string
  source: string
  tracking: string
  stockUnit: string
  symbol: string
  decimals: number
  onHand: string
  allocated: string
  coming: string
  wanted: string
  safetyStock: string
  pictureId: number | null
  value: string
  name2: string
  price: string | null
  sellingSymbol: string
  supplier: string | null
  supplierCode: string | null
  leadDays: number
  barcode: string | null
}

export interface DefinitionRow {
  id: number
  code: string
  name: string
  retired: boolean
  summary: string
  used: number
}

/** An item as it is named in a sentence or a choice. */
export interface ItemName {
  id: number
  code: string
  name: string
}
