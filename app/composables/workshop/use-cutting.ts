import { evaluate, type CuttingPlan, type CuttingProblem } from '~~/core/cutting'
import { ratio, toText, type Ratio } from '~~/core/units/exact'
import type { CuttingAnswer, CutPlan } from '~~/shared/workshop/cutting'

/**
 * A cutting job on its page: the lengths as core has them, the proposal worked out beside the page, and what a person
 * makes of it.
 */
export function useCutting(job: () => CuttingAnswer) {
  const step = computed(() => ratio(job().finestStep))
  const steps = (text: string): number => Number(toText(ratio(text).div(step.value)))
  const measure = (count: number): string => toText(step.value.mul(ratio(count)))
  const problem = computed<CuttingProblem>(() => ({
    wanted: job().wanted.map((cut, index) => ({
      id: String(index),
      length: steps(cut.quantity),
      count: cut.count,
      job: cut.job,
    })),
    stock: job().stock.map((piece) => ({ id: String(piece.pieceId), length: steps(piece.free), lot: piece.lot })),
    kerf: steps(job().kerf),
    keep: steps(job().keep) === 0 ? Infinity : steps(job().keep),
    oneLotPerJob: job().oneLot,
  }))
  const cuts = ref<CutPlan['cuts']>(job().plan?.cuts ?? [])
  const found = ref<{ bound: number; isExact: boolean } | null>(
    job().plan ? { bound: steps(job().plan!.bound), isExact: job().plan!.isExact } : null,
  )
  const isBusy = ref(false)
  let worker: Worker | null = null
  onUnmounted(() => worker?.terminate())

  /** Cuts of pieces or lengths that are not there any more are left out. */
  const kept = computed(() =>
    cuts.value
      .filter((cut) => job().stock.some((piece) => piece.pieceId === cut.pieceId))
      .map((cut) => ({ ...cut, parts: cut.parts.filter((part) => part < job().wanted.length) })),
  )
  const plan = computed<CuttingPlan>(() =>
    evaluate(
      problem.value,
      kept.value.map((cut) => ({ stock: String(cut.pieceId), parts: cut.parts.map(String) })),
    ),
  )
  const isOver = computed(() => plan.value.cuts.some((cut) => cut.rest < 0))
  /** Jobs whose lengths come from more than one lot, though one was asked for. */
  const mixed = computed(() =>
    !job().oneLot
      ? []
      : [...new Set(problem.value.wanted.map((cut) => cut.job))].filter(
          (name) =>
            new Set(
              kept.value
                .filter((cut) => cut.parts.some((part) => job().wanted[part]!.job === name))
                .map((cut) => job().stock.find((piece) => piece.pieceId === cut.pieceId)!.lot),
            ).size > 1,
        ),
  )
  /** How far it lies above what is possible at all. */
  const above = computed<Ratio | null>(() =>
    found.value && found.value.bound > 0 && plan.value.missing.length === 0
      ? ratio(plan.value.consumed).div(ratio(found.value.bound)).sub(1)
      : null,
  )

  async function propose(): Promise<void> {
    isBusy.value = true
    worker?.terminate()
    worker = new Worker(new URL('../../workers/cut.ts', import.meta.url), { type: 'module' })
    const own = worker
    const answer = await new Promise<CuttingPlan>((resolve, reject) => {
      own.onmessage = (event) => resolve(event.data as CuttingPlan)
      own.onerror = reject
      own.postMessage(
        JSON.parse(JSON.stringify(problem.value), (key, value: unknown) =>
          key === 'keep' && value === null ? Infinity : value,
        ),
      )
    })
    own.terminate()
    cuts.value = answer.cuts.map((cut) => ({ pieceId: Number(cut.stock), parts: cut.parts.map(Number) }))
    found.value = { bound: answer.bound, isExact: answer.isExact }
    isBusy.value = false
  }
  /** Puts a length onto another piece. */
  function move(from: number | null, index: number, to: number | null): void {
    const part = from === null ? index : kept.value.find((cut) => cut.pieceId === from)!.parts[index]!
    const without = kept.value.map((cut) =>
      cut.pieceId === from ? { ...cut, parts: cut.parts.filter((_, i) => i !== index) } : cut,
    )
    if (to === null) {
      cuts.value = without
    } else if (without.some((cut) => cut.pieceId === to)) {
      cuts.value = without.map((cut) => (cut.pieceId === to ? { ...cut, parts: [...cut.parts, part] } : cut))
    } else {
      cuts.value = [...without, { pieceId: to, parts: [part] }]
    }
  }
  function setParts(pieceId: number, parts: readonly number[]): void {
    cuts.value = kept.value.some((cut) => cut.pieceId === pieceId)
      ? kept.value.map((cut) => (cut.pieceId === pieceId ? { ...cut, parts } : cut))
      : [...kept.value, { pieceId, parts }]
  }
  const asPlan = computed<CutPlan | null>(() =>
    kept.value.some((cut) => cut.parts.length > 0)
      ? {
          cuts: kept.value.filter((cut) => cut.parts.length > 0),
          bound: measure(found.value?.bound ?? 0),
          isExact: found.value?.isExact ?? false,
        }
      : null,
  )
  return {
    problem,
    plan,
    cuts: kept,
    found,
    isBusy,
    isOver,
    mixed,
    above,
    propose,
    move,
    setParts,
    measure,
    steps,
    asPlan,
    clear: () => {
      cuts.value = []
      found.value = null
    },
  }
}
