import type { WhatIfEdit } from '~~/shared/planning/requests'
import type { OrderTried, PlanFrom, PlanJob, Tried } from '~/workers/plan'

interface Waiting {
  readonly resolve: (answer: unknown) => void
  readonly reject: (error: Error) => void
}

/** One worker for all that looks at a plan: the page and what is opened over it ask the same open plan. */
let worker: Worker | null = null
let users = 0
let asked = 0
const waiting = new Map<number, Waiting>()
const busy = ref(false)

function begin(): Worker {
  const made = new Worker(new URL('../../workers/plan.ts', import.meta.url), { type: 'module' })
  made.onmessage = (event: MessageEvent<{ id: number; answer?: unknown; error?: string }>) => {
    const entry = waiting.get(event.data.id)
    waiting.delete(event.data.id)
    busy.value = waiting.size > 0
    if (event.data.error === undefined) {
      entry?.resolve(event.data.answer)
    } else {
      entry?.reject(new Error(event.data.error))
    }
  }
  return made
}

function send<T>(job: PlanJob): Promise<T> {
  worker ??= begin()
  const id = ++asked
  busy.value = true
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve: resolve as (answer: unknown) => void, reject })
    worker!.postMessage({ id, job: JSON.parse(JSON.stringify(job)) as PlanJob })
  })
}

/**
 * Computes a plan along beside the page: what a change of what is tried out, or of one order, would make of it. Nothing
 * is stored.
 */
export function useLivePlan(plan: () => PlanFrom, among: () => readonly string[] | null) {
  users++
  onUnmounted(() => {
    if (--users > 0) {
      return
    }
    worker?.terminate()
    worker = null
    waiting.clear()
    busy.value = false
  })
  return {
    /** Reads the plan before it is asked for. */
    warmUp: () => void send({ kind: 'load', plan: plan() }).catch(() => undefined),
    tryChanges: (changes: readonly WhatIfEdit[]): Promise<Tried> =>
      send({ kind: 'try', plan: plan(), changes, among: among() }),
    tryOrder: (
      changes: readonly WhatIfEdit[],
      order: { node: string; instead: string; quantity: string; due: string; supplier: string | null },
    ): Promise<OrderTried> => send({ kind: 'try order', plan: plan(), changes, ...order }),
    busy,
  }
}
