import type { ForecastAnswer, ForecastRow, ItemSeries } from '~~/shared/demand/forecast'
import type { Choice } from '~/components/demand/ForecastCompute.vue'
import type { ForecastGrid } from './use-forecast-grid'
import type { Wanted } from './use-forecaster'

/**
 * Saves what is typed into a forecast, and computes its items from past sales; each save knows the version it changes.
 */
export function useForecastEdits(
  forecast: Ref<ForecastAnswer | null | undefined>,
  grid: ForecastGrid,
  refresh: () => Promise<unknown>,
) {
  const notices = useNotices()
  const saving = useAct()
  const computing = useAct()
  const forecaster = useForecaster()
  const path = (): string => `/api/demand/forecasts/${forecast.value!.id}`
  /** Our own edit is no stranger’s: the next one goes out before the page has read this one back. */
  function seen(version: number): void {
    forecast.value = { ...forecast.value!, version }
  }
  async function save(): Promise<boolean> {
    const cells = grid.cells.value
    if (cells.length === 0) {
      return true
    }
    const saved = await saving.run(() =>
      $fetch<{ version: number }>(path(), { method: 'PUT', body: { version: forecast.value!.version, cells } }),
    )
    if (!saved) {
      return false
    }
    seen(saved.version)
    grid.clear()
    notices.say({ kind: 'done', text: `${cells.length} ${plural(cells.length, 'cell is', 'cells are')} saved.` })
    await refresh()
    return true
  }
  /**
   * Computes many: the chosen rows, all of the forecast, a group, or whatever was sold; answers whether it was done.
   */
  async function computeAll(choice: Choice, chosen: readonly ForecastRow[]): Promise<boolean> {
    const own = new Map(grid.rows.value.map((row) => [row.itemId, row]))
    const wantedOf = (itemId: number): Wanted | null => {
      if (choice.method === 'best') {
        return null
      }
      if (choice.method !== 'own') {
        return { method: choice.method }
      }
      const row = own.get(itemId)
      return row?.method ? { method: row.method, ...(row.parameters && { parameters: row.parameters }) } : null
    }
    return compute({ step: forecast.value!.step, ...whichItems(choice, chosen) }, wantedOf, choice.over)
  }
  function whichItems(choice: Choice, chosen: readonly ForecastRow[]): { itemIds?: number[]; groupId?: number | null } {
    if (choice.which === 'chosen') {
      return { itemIds: chosen.map((row) => row.itemId) }
    }
    if (choice.which === 'all') {
      return { itemIds: grid.rows.value.map((row) => row.itemId) }
    }
    return choice.which === 'group' ? { groupId: choice.groupId } : {}
  }
  const computeOne = (itemId: number, wanted: Wanted | null): Promise<boolean> =>
    compute({ step: forecast.value!.step, itemIds: [itemId] }, () => wanted, false)
  async function compute(
    which: object,
    wantedOf: (itemId: number) => Wanted | null,
    replace: boolean,
  ): Promise<boolean> {
    if (!(await save())) {
      return false
    }
    const answer = await computing.run(async () => {
      const list = await $fetch<ItemSeries[]>('/api/demand/history/series', { method: 'POST', body: which })
      const found = await forecaster.compute(forecast.value!, list, wantedOf)
      if (found === null || found.finished.length === 0) {
        return found
      }
      const stored = await $fetch<{ version: number }>(`${path()}/computed`, {
        method: 'PUT',
        body: { version: forecast.value!.version, over: replace, items: found.finished },
      })
      seen(stored.version)
      return found
    })
    if (answer === null) {
      if (computing.detail.value === '') {
        notices.say({ kind: 'done', text: 'Stopped; nothing was changed.' })
      }
      return false
    }
    const left = answer.without.length
    notices.say({
      kind: answer.finished.length > 0 ? 'done' : 'problem',
      text: `${answer.finished.length} ${plural(answer.finished.length, 'item is', 'items are')} forecast${left > 0 ? `; ${left} ${plural(left, 'has', 'have')} no sales to go by` : ''}.`,
    })
    await refresh()
    return true
  }
  /** Takes rows out, with their figures; answers whether they are gone. */
  async function takeOut(rows: readonly ForecastRow[], added: Ref<ForecastRow[]>): Promise<boolean> {
    const without = rows.map((row) => row.itemId)
    added.value = added.value.filter((row) => !without.includes(row.itemId))
    const stored = await saving.run(() =>
      $fetch(path(), { method: 'PUT', body: { version: forecast.value!.version, without } }),
    )
    if (!stored) {
      return false
    }
    grid.forget(without)
    await refresh()
    return true
  }
  return { saving, computing, forecaster, save, computeAll, computeOne, takeOut }
}
