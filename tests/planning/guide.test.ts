import { readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { checkInput } from '~~/shared/planning/check-plan-file'
import { demandsAtRisk } from '~~/core/planning/what-if'
import { plan } from '~~/core/planning'
import { reasonsOf, type PlanDay } from '~~/core/planning/explain'

const guide = readFileSync('docs/guide/planning.md', 'utf8')
/** The rows of the guide's table that begins with a heading. */
function table(first: string): string[][] {
  const lines = guide.split('\n')
  const index = lines.findIndex((line) => new RegExp(`^\\| ${first} +\\|`).test(line))
  const rows: string[][] = []
  for (let line = index; lines[line]?.startsWith('|'); line++) {
    rows.push(
      lines[line]!.split('|')
        .slice(1, -1)
        .map((cell) => cell.trim()),
    )
  }
  return [rows[0]!, ...rows.slice(2)]
}
const input = checkInput(JSON.parse(readFileSync('docs/guide/lanterns.json', 'utf8')))
const planned = plan(
  input.ok
    ? input.value
    : (() => {
        throw new Error('The example is no snapshot')
      })(),
)
const output = planned.ok
  ? planned.value
  : (() => {
      throw new Error('The example cannot be planned')
    })()

it('the six lines of the lantern are those that the guide shows', () => {
  const [[, ...days], ...rows] = table('LANTERN') as [string[], ...string[][]]
  const KEYS: Readonly<Record<string, keyof PlanDay>> = {
    'gross requirements': 'grossRequirements',
    'scheduled receipts': 'scheduledReceipts',
    'projected available': 'projectedAvailable',
    'net requirements': 'netRequirements',
    'planned order receipts': 'plannedReceipts',
    'planned order releases': 'plannedReleases',
  }
  const own = output.nodes.find((node) => node.id === 'LANTERN')!.days
  expect(own.map((day) => day.day)).toEqual(days)
  expect(rows.map(([name]) => name)).toEqual(Object.keys(KEYS))
  for (const [name, ...cells] of rows) {
    expect([name, own.map((day) => String(day[KEYS[name!]!]))]).toEqual([name, cells])
  }
})
it('its orders are those that the guide lists', () => {
  const [, ...rows] = table('order')
  expect(
    output.orders.map((o) => [
      `${o.kind} ${o.node}`,
      String(o.quantity),
      o.release,
      o.due,
      String(o.lateBy),
      o.promised,
    ]),
  ).toEqual(rows)
})
it('and so is who they are for, and who waits', () => {
  const lath = output.orders.filter((order) => order.node === 'LATH')[1]!
  expect(reasonsOf(output, lath.id)).toMatchObject([
    {
      order: 'planned:FRAME:2',
      reasons: [{ order: 'planned:LANTERN:2', reasons: [{ demand: 'order', quantity: 10 }] }],
    },
  ])
  expect([...demandsAtRisk(input.ok ? input.value : null!, output)]).toEqual(['forecast'])
})
