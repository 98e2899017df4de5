import type { Verdict } from '~~/core/inspection'
import type { InspectionDecision, InspectionPlanSeen } from './words'

/** An inspection that was opened for goods as they came. */
export interface OpenedInspection {
  readonly id: number
  readonly number: string
  readonly code: string
  readonly lot: string
}

export interface InspectionRow {
  readonly id: number
  readonly number: string
  readonly status: 'open' | 'decided' | 'taken back'
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly lots: string
  readonly quantity: string
  readonly symbol: string
  readonly source: string
  readonly supplier: string
  readonly openedOn: string
  /** Days from the day it was opened to the decision, or until today. */
  readonly days: number
  readonly plan: string
  readonly sampleSize: number
  readonly decision: InspectionDecision | null
  readonly failed: number
  readonly accepted: string
  readonly rejected: string
}

export interface InspectionGoodsRow {
  readonly bin: string
  readonly pieceId: number | null
  readonly piece: string
  readonly quantity: string
}

/** One inspection as its page shows it. Quantities in the stock unit. */
export interface InspectionPage {
  readonly id: number
  readonly number: string
  readonly status: 'open' | 'decided' | 'taken back'
  readonly planId: number
  readonly plan: InspectionPlanSeen
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly decimals: number
  readonly stockUnit: string
  readonly tracking: string
  readonly lots: string
  readonly quantity: string
  readonly supplierId: number | null
  readonly supplier: string | null
  readonly source: string
  readonly orderId: number | null
  readonly buildId: number | null
  readonly openedOn: string
  readonly letter: string
  readonly sampleSize: number
  readonly accept: number
  readonly samples: readonly (readonly string[])[]
  readonly instrument: string
  readonly pictureId: number | null
  readonly decision: InspectionDecision | null
  readonly reason: string
  readonly failed: number
  readonly accepted: string
  readonly rejected: string
  readonly decidedBy: string | null
  readonly decidedOn: string | null
  readonly decisionId: number | null
  readonly version: number
  readonly goods: readonly InspectionGoodsRow[]
  /** What was decided before of this item by this plan. */
  readonly before: { readonly decided: number; readonly rejected: number }
}

/** A plan in the list of plans. */
export interface InspectionPlanRow extends InspectionPlanSeen {
  readonly id: number
  readonly itemId: number | null
  readonly item: { readonly id: number; readonly code: string; readonly name: string } | null
  readonly groupId: number | null
  readonly supplierId: number | null
  /** What it is for, in words. */
  readonly of: string
  readonly onReceipts: boolean
  readonly onBuilds: boolean
  readonly note: string
  readonly retired: boolean
  readonly version: number
  readonly inspected: number
  readonly rejected: number
}

/** Measured values of a characteristic over the last inspections, oldest first. */
export interface RunChart {
  readonly name: string
  readonly unit: string
  readonly low: string
  readonly high: string
  readonly values: readonly {
    readonly inspectionId: number
    readonly number: string
    readonly on: string
    readonly value: string
    readonly verdict: Verdict
  }[]
}
