import type { PlanInput } from '~~/core/planning'
import type { WhatIfEdit } from '~~/shared/planning'
import type { WhatIfItem } from '~~/shared/what-if'
import type { OrderTried, PlanJob, Tried } from '~/workers/plan'

/** Computes a plan along beside the page: what a change of what is tried out, or of one order, would make of it. Nothing is stored. */
export function useLivePlan(planId: () => number, version: () => number, among: () => readonly string[] | null) {
  let worker: Worker | null = null
  let from: { version: number, snapshot: PlanInput, items: Record<string, WhatIfItem> } | null = null
  let asked = 0
  const waiting = new Map<number, { resolve: (answer: unknown) => void, reject: (error: Error) => void }>()
  const busy = ref(false)
  onUnmounted(() => { worker?.terminate(); worker = null })

  function send<T>(job: PlanJob): Promise<T> {
    if (!worker) {
      worker = new Worker(new URL('../workers/plan.ts', import.meta.url), { type: 'module' })
      worker.onmessage = (event: MessageEvent<{ id: number, answer?: unknown, error?: string }>) => {
        const one = waiting.get(event.data.id)
        waiting.delete(event.data.id)
        busy.value = waiting.size > 0
        if (event.data.error === undefined) one?.resolve(event.data.answer)
        else one?.reject(new Error(event.data.error))
      }
    }
    const id = ++asked
    busy.value = true
    return new Promise((resolve, reject) => {
      waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject })
      worker!.postMessage({ id, job: JSON.parse(JSON.stringify(job)) as PlanJob })
    })
  }
  async function load(): Promise<NonNullable<typeof from>> {
    if (from?.version !== version()) { const now = version(); from = { version: now, ...await $fetch(`/api/planning/plans/${planId()}/snapshot`) as { snapshot: PlanInput, items: Record<string, WhatIfItem> } } }
    return from
  }
  async function tryChanges(changes: readonly WhatIfEdit[]): Promise<Tried> { const { snapshot, items } = await load(); return send({ kind: 'open', snapshot, items, changes, among: among() }) }
  async function tryOrder(changes: readonly WhatIfEdit[], order: { node: string, instead: string, quantity: string, due: string, supplier: string | null }): Promise<OrderTried> {
    await tryChanges(changes)
    return send({ kind: 'try order', ...order })
  }
  return { tryChanges, tryOrder, busy }
}
