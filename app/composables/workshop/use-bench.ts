import { useLocalStorage } from '@vueuse/core'
import { ratio, toText } from '~~/core/units/exact'
import type { BuildAnswer, BuildLineAnswer, Choice } from '~~/shared/workshop/answers'
import { amountFor, mergeCount, summaryOf } from './merge-count'
import type { Merged, Waiting } from './use-outbox'

interface Kept {
  picked: Record<number, number | null>
  steps: number[]
}
interface Recorded {
  lot?: string | null
  value?: string
  status?: string
  version?: number
}

/**
 * A build at the bench: what is picked and done is kept in the browser, and what is recorded waits there while the
 * connection is cut.
 */
export function useBench(id: number, build: () => BuildAnswer, refresh: () => Promise<void>) {
  const notices = useNotices()
  const { asTyped, money } = usePrint()
  const kept = useLocalStorage<Kept>(`tsumiki-bench-${id}`, { picked: {}, steps: [] })
  const watch = useStopwatch(String(id))
  const outbox = useOutbox(
    undefined,
    (act, answer) => {
      const { lot, value, status } = answer as Recorded
      notices.say({
        kind: 'done',
        text: `${act.summary} recorded${lot ? ` as lot ${lot}` : ''}${value && value !== '0' ? `, worth ${money(value)}` : ''}.`,
      })
      if (status === 'done') {
        kept.value = { picked: {}, steps: [] }
      }
      void refresh()
    },
    stillFits,
  )
  const own = computed(() => outbox.waiting.value.filter((act) => act.document === `build/${id}`))
  // What is waiting to be recorded counts as made on this screen.
  const promised = computed(() =>
    own.value
      .filter((act) => act.refused === undefined)
      .reduce((sum, act) => sum.add(ratio(String(act.body.made))), ratio(0)),
  )
  const left = computed(() => {
    const rest = ratio(build().left).sub(promised.value)
    return rest.compare(0) > 0 ? toText(rest) : '0'
  })
  const made = computed(() => toText(ratio(build().made).add(promised.value)))

  const isPicked = (line: BuildLineAnswer): boolean => line.id in kept.value.picked
  const chosen = (line: BuildLineAnswer): Choice | undefined =>
    line.choices.find((act) => act.balanceId === kept.value.picked[line.id])
  function pick(line: BuildLineAnswer, choice: Choice | null): void {
    kept.value = { ...kept.value, picked: { ...kept.value.picked, [line.id]: choice?.balanceId ?? null } }
  }
  function leave(line: BuildLineAnswer): void {
    kept.value = {
      ...kept.value,
      picked: Object.fromEntries(Object.entries(kept.value.picked).filter(([key]) => Number(key) !== line.id)),
    }
  }
  const turnStep = (index: number): void => {
    kept.value = {
      ...kept.value,
      steps: kept.value.steps.includes(index)
        ? kept.value.steps.filter((act) => act !== index)
        : [...kept.value.steps, index],
    }
  }

  /** What of a count another device has left to record of this build, by the build as it is now. */
  async function stillFits(act: Waiting): Promise<Merged | null> {
    if (act.document !== `build/${id}`) {
      return null
    }
    const now = await $fetch<BuildAnswer>(`/api/workshop/builds/${id}`)
    const isOver = !['draft', 'ready', 'started'].includes(now.status)
    return mergeCount(act, isOver ? { ...now, left: '0' } : now, (line, count) => asTyped(amountFor(now, line, count)))
  }
  /**
   * Records a count: lots that were scanned are taken in the bill's quantity, everything else by the bill and the
   * picking order.
   */
  async function record(count: number, binId: number | null): Promise<void> {
    const now = build()
    const uses = now.components
      .filter((line) => line.next !== '0' && chosen(line) !== undefined)
      .map((line) => ({
        lineId: line.id,
        balanceId: kept.value.picked[line.id],
        unit: line.stockUnit,
        scrap: '',
        quantity: asTyped(amountFor(now, line, count)),
      }))
    const minutes = watch.seconds.value > 0 ? watch.minutes.value : ''
    watch.reset()
    await outbox.put({
      url: `/api/workshop/builds/${id}/record`,
      document: `build/${id}`,
      summary: summaryOf(now, count),
      body: {
        version: now.version,
        made: String(count),
        unit: now.unit,
        binId,
        lot: '',
        expiresOn: null,
        minutes,
        uses,
        pieces: [],
        byProducts: [],
        effectiveOn: null,
        finished: false,
        withSubAssemblies: false,
      },
    })
  }
  return { kept, watch, outbox, own, left, made, isPicked, chosen, pick, leave, turnStep, record }
}
