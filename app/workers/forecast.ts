import { forecastItem, type History, type MethodName, type Parameters } from '~~/core/forecasting'
import type { Period, Step } from '~~/core/calendar/periods'
import type { ComputedItem } from '~~/shared/demand/forecast'

export interface ForecastJob {
  readonly step: Step
  readonly periods: readonly Period[]
  readonly items: readonly {
    readonly itemId: number
    readonly symbol: string
    readonly history: History | null
    readonly wanted: { readonly method: MethodName; readonly parameters?: Parameters } | null
  }[]
}
export type ForecastNews =
  | { readonly done: number }
  | { readonly finished: ComputedItem[]; /** Items with nothing to go by. */ readonly without: number[] }

// Off the page's own thread: thousands of items take seconds. Ending the worker is the way to stop it.
self.onmessage = (event: MessageEvent<ForecastJob>) => {
  const { step, periods, items } = event.data
  const finished: ComputedItem[] = []
  const without: number[] = []
  items.forEach(({ itemId, symbol, history, wanted }, index) => {
    const found = forecastItem({ history, step, periods, symbol, wanted })
    if (found === null) {
      without.push(itemId)
    } else {
      finished.push({
        itemId,
        wanted:
          wanted === null
            ? null
            : { method: wanted.method, ...(wanted.parameters && { parameters: { ...wanted.parameters } }) },
        method: found.choice.applied.method,
        parameters: { ...found.choice.applied.parameters },
        reason: found.choice.reason,
        sentence: found.sentence,
        deviation: found.deviation,
        compared: found.choice.compared.map((result) => ({ ...result })),
        expected: [...found.expected],
        ranges: found.ranges.map((range) => ({ ...range })),
      })
    }
    if (index % 25 === 24) {
      self.postMessage({ done: index + 1 } satisfies ForecastNews)
    }
  })
  self.postMessage({ finished, without } satisfies ForecastNews)
}
