import type { History, MethodName, Parameters } from '~~/core/forecasting'
import type { ComputedItem, ForecastAnswer, ItemSeries } from '~~/shared/demand/forecast'
import type { ForecastJob, ForecastNews } from '~/workers/forecast'

export interface Wanted {
  readonly method: MethodName
  readonly parameters?: Parameters
}

/** Computes forecasts beside the page, tells how far it is, and can be stopped. */
export function useForecaster() {
  const done = ref(0)
  const total = ref(0)
  let worker: Worker | null = null
  let giveUp: (() => void) | null = null
  const isBusy = computed(() => total.value > 0)
  onUnmounted(() => stop())

  /** Null where it was stopped. */
  async function compute(
    forecast: Pick<ForecastAnswer, 'step' | 'periods'>,
    list: readonly ItemSeries[],
    wantedOf: (itemId: number) => Wanted | null,
  ): Promise<{ finished: ComputedItem[]; without: number[] } | null> {
    stop()
    total.value = list.length
    done.value = 0
    const job: ForecastJob = {
      step: forecast.step,
      periods: forecast.periods,
      items: list.map((item) => ({
        itemId: item.itemId,
        symbol: item.symbol,
        history: item.history as History | null,
        wanted: wantedOf(item.itemId),
      })),
    }
    const own = (worker = new Worker(new URL('../../workers/forecast.ts', import.meta.url), { type: 'module' }))
    try {
      return await new Promise((resolve, reject) => {
        giveUp = () => {
          resolve(null)
        }
        own.onerror = reject
        own.onmessage = (event: MessageEvent<ForecastNews>) => {
          if ('done' in event.data) {
            done.value = event.data.done
          } else {
            resolve(event.data as { finished: ComputedItem[]; without: number[] })
          }
        }
        own.postMessage(JSON.parse(JSON.stringify(job)))
      })
    } finally {
      own.terminate()
      if (worker === own) {
        worker = null
        total.value = 0
      }
    }
  }
  function stop(): void {
    worker?.terminate()
    worker = null
    giveUp?.()
    giveUp = null
    total.value = 0
  }
  return { compute, stop, done, total, isBusy }
}
