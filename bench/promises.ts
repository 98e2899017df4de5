import { writePlan } from '~~/core/planning'
import { NetPlan } from '~~/core/planning/netting'
import { OpenPromises } from '~~/core/planning/promise'
import { best, type Figure } from './figure'
import { makeInput } from './factory'

const ITEMS = 20_000
const LINES = 10

/**
 * Ten lines of items at the top, six levels of four components each, on a snapshot of 20 000 items with 50 000 open
 * demands.
 */
export async function* run(): AsyncGenerator<Figure> {
  const input = makeInput(ITEMS, 50_000)
  const requests = Array.from({ length: LINES }, (_, line) => ({
    id: String(line),
    node: `0.${line * 37}`,
    quantity: 600,
  }))
  let open: OpenPromises | null = null
  const opening = await best(2, () => {
    const made = OpenPromises.open(input)
    open = made.ok ? made.value : null
  })
  const answering = await best(3, () => open!.answer(requests))
  const netted = NetPlan.open(input)
  const copying = netted.ok ? await copyOf(netted.value) : NaN
  yield {
    bench: 'promises',
    figure: `ten lines promised on an open snapshot of ${ITEMS / 1000} 000 items, six levels`,
    value: answering,
    unit: 'ms',
    comparedWith: `every balance copied once for each line (${copying.toFixed(0)} ms; it may take 300 ms)`,
    ratio: answering / copying,
  }
  yield {
    bench: 'promises',
    figure: 'the snapshot opened and ten lines promised',
    value: opening + answering,
    unit: 'ms',
    comparedWith: 'the 300 ms that it may take',
    ratio: (opening + answering) / 300,
  }
}

/** What the least that copying needs takes: one copy of every node's days for each line. */
async function copyOf(plan: NetPlan): Promise<number> {
  const { nodes } = writePlan(plan)
  let kept = 0
  const took = await best(2, () => {
    for (let line = 0; line < LINES; line++) {
      kept += new Map(nodes.map(({ id, days }) => [id, days.map((day) => ({ ...day }))])).size
    }
  })
  return kept > 0 ? took : NaN
}
