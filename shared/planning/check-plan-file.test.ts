import { execFileSync, type ExecFileSyncOptionsWithStringEncoding } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Ajv from 'ajv/dist/2020'
import formats from 'ajv-formats'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import * as z from 'zod'
import { plan } from '~~/core/planning'
import { anyNetwork } from '~~/tests/planning/random-network'
import { runs } from '~~/tests/property-runs'
import { checkInput } from './check-plan-file'
import { PlanFile } from './plan-file'

const published = JSON.parse(readFileSync('docs/formats/plan-input.schema.json', 'utf8')) as object
const good = () => JSON.parse(readFileSync('docs/guide/lanterns.json', 'utf8')) as Record<string, never>

const shelf = {
  start: '2026-10-05',
  end: '2026-10-20',
  calendars: {},
  supplies: [],
  demands: [{ id: 'd', node: 'x', day: '2026-10-12', quantity: 2 ** 50, kind: 'what-if', label: '', priority: 0 }],
}
const source = { kind: 'buy', supplier: 's', leadDays: 0, calendar: null }
const x = { id: 'x', onHand: [], safety: 0, source }

type Path = readonly (string | number)[]
/** The good file with one place changed; `undefined` takes it out. */
function changed(path: Path, value: unknown): unknown {
  const file: unknown = good()
  const last = path.at(-1)!
  const holder = path.slice(0, -1).reduce<unknown>((at, key) => (at as Record<string | number, unknown>)[key], file)
  ;(holder as Record<string | number, unknown>)[last] = value
  return JSON.parse(JSON.stringify(file)) as unknown
}
const told = (data: unknown): string[] => {
  const checked = checkInput(data)
  return checked.ok ? [] : checked.error.map(({ path, sentence }) => `${path} ${sentence}`)
}

it('the published schema is the one that is checked by', () => {
  expect(published).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(PlanFile))))
})

describe('a file to plan on', () => {
  it('is taken where it is whole', () => {
    expect(told(good())).toEqual([])
  })
  it.each<[Path, unknown, string]>([
    [['nodes'], {}, 'nodes must be a list'],
    [['start'], undefined, 'start is missing: it must be a date such as 2026-10-05'],
    [['end'], '2026-02-30', 'end must be a date such as 2026-10-05'],
    [['end'], '2020-01-01', 'end must not be before the start'],
    [['end'], '9999-12-31', 'end must be within ten years of the start'],
    [['surplus'], 1, 'surplus is not a field that is known here'],
    [['nodes', 0, 'source', 'leaddays'], 3, 'nodes[0].source.leaddays is not a field that is known here'],
    [['nodes', 0, 'source', 'leadDays'], -1, 'nodes[0].source.leadDays must be a whole number of days from 0 to 3650'],
    [
      ['nodes', 0, 'source', 'leadDays'],
      3651,
      'nodes[0].source.leadDays must be a whole number of days from 0 to 3650',
    ],
    [['nodes', 0, 'source', 'leadDays'], 1.5, 'nodes[0].source.leadDays must be a whole number of days from 0 to 3650'],
    [['nodes', 0, 'source', 'calendar'], 'moon', 'nodes[0].source.calendar names a calendar that is not there: moon'],
    [['nodes', 0, 'source', 'calendar'], '__proto__', 'nodes[0].source.calendar names a calendar that is not there'],
    [
      ['nodes', 0, 'source', 'kind'],
      'wish',
      'nodes[0].source.kind must be a source: buy, make, break down, move or none',
    ],
    [['nodes', 0, 'source', 'maximum'], 0, 'nodes[0].source.maximum must be a whole number from 1 to 2^53 - 1'],
    [
      ['nodes', 0, 'source', 'components', 0, 'denominator'],
      '0',
      'nodes[0].source.components[0].denominator must be a whole number above 0',
    ],
    [
      ['nodes', 0, 'source', 'components', 0, 'denominator'],
      '-2',
      'nodes[0].source.components[0].denominator must be a whole number above 0',
    ],
    [
      ['nodes', 0, 'source', 'components', 0, 'numerator'],
      '9'.repeat(41),
      'nodes[0].source.components[0].numerator must have at most 40 digits',
    ],
    [
      ['nodes', 0, 'source', 'components', 0, 'node'],
      'NOWHERE',
      'nodes[0].source.components[0].node names a node that is not there: NOWHERE',
    ],
    [['nodes', 1, 'id'], 'LANTERN', 'nodes[1].id names LANTERN a second time'],
    [['nodes', 0, 'id'], '', 'nodes[0].id must not be empty'],
    [['nodes', 0, 'safety'], 2 ** 53, 'nodes[0].safety'],
    [['nodes', 0, 'rule'], { kind: 'fixed' }, 'nodes[0].rule.quantity is missing'],
    [['nodes', 0, 'rule'], { kind: 'economic', orderCost: 5 }, 'nodes[0].rule.holdingCost is missing'],
    [
      ['nodes', 0, 'rule'],
      { kind: 'economic', orderCost: 5, holdingCost: 0 },
      'nodes[0].rule.holdingCost must be a number above 0',
    ],
    [['nodes', 0, 'rule'], { kind: 'cover', days: 0 }, 'nodes[0].rule.days must be at least 1 day'],
    [['nodes', 0, 'rule'], { kind: 'guess' }, 'nodes[0].rule.kind must be a lot-sizing rule'],
    [['demands', 0, 'quantity'], 1.5, 'demands[0].quantity must be a whole number from 0 to 2^53 - 1'],
    [['demands', 0, 'quantity'], -1, 'demands[0].quantity must be a whole number from 0 to 2^53 - 1'],
    [['demands', 0, 'node'], 'x', 'demands[0].node names a node that is not there: x'],
    [['demands', 0, 'for'], ['x'], 'demands[0].for[0] names an open supply that is not there: x'],
    [['demands', 0, 'kind'], 'gift', 'demands[0].kind must be one of: sales order, forecast'],
    [
      ['supplies'],
      [{ id: 's', node: 'LANTERN', day: 'soon', quantity: 1, kind: 'build', label: '' }],
      'supplies[0].day',
    ],
    [
      ['fixed'],
      [{ id: 'f', node: 'LANTERN', quantity: 1, due: '2026-10-06', release: '2026-10-07' }],
      'fixed[0].release must not be after it is due',
    ],
    [
      ['calendars'],
      { never: { weekdays: [false, false, false, false, false, false, false], closed: [] } },
      'calendars.never.weekdays must have a day that is worked',
    ],
    [['calendars'], { short: { weekdays: [true], closed: [] } }, 'calendars.short.weekdays must be a list of seven'],
  ])('with %j as %j says: %s', (path, value, sentence) => {
    expect(told(changed(path, value)).find((line) => line.startsWith(sentence))).toBeDefined()
  })
  it('tells every fault, not only the first', () => {
    const file = changed(['start'], 'x') as { end: unknown; demands: { quantity: unknown }[] }
    file.end = 5
    file.demands[0]!.quantity = '3'
    expect(told(file)).toHaveLength(3)
  })
  it('sums of a node beyond 2^53', () => {
    const row = { node: 'LANTERN', day: '2026-10-12', quantity: 2 ** 52, kind: 'what-if', label: '', priority: 0 }
    const file = changed(
      ['demands'],
      ['a', 'b'].map((id) => ({ ...row, id })),
    )
    expect(told(file)).toEqual(['demands[1].quantity makes the sum of its node more than 2^53 - 1 steps'])
  })
})

describe('what only planning finds is told of its node, and the rest is planned', () => {
  it.each([
    ['a million million orders for a day', { nodes: [{ ...x, source: { ...source, maximum: 1 } }] }, 'x', 'orders'],
    [
      'a component beyond 2^53',
      {
        nodes: [
          {
            ...x,
            source: {
              kind: 'make',
              structure: 'b',
              leadDays: 0,
              calendar: null,
              components: [{ node: 'y', numerator: '100', fixedNumerator: '0', denominator: '1' }],
            },
          },
          { ...x, id: 'y' },
        ],
      },
      'y',
      'sum',
    ],
    [
      'a multiple beyond 2^53',
      { nodes: [{ ...x, source: { ...source, multiple: { numerator: '9'.repeat(40), denominator: '1' } } }] },
      'x',
      'sum',
    ],
  ])('%s', (_, more, node, limit) => {
    const checked = checkInput({ ...shelf, ...more })
    const done = checked.ok && plan(checked.value)
    expect(done && done.ok && done.value.messages.filter((message) => message.code === 'beyond limit')).toEqual([
      { code: 'beyond limit', node, day: '2026-10-05', quantity: 0, limit },
    ])
  })
})

describe('whatever is in a file', () => {
  const junk = fc.oneof(
    fc.constantFrom(null, '', 'x', '0', -1, 0, 1, 1.5, 2 ** 53, 1e300, true, [], {}, '2026-02-30', '9999-12-31'),
    fc.jsonValue({ maxDepth: 1 }),
  )
  const places = (value: unknown, path: Path = []): Path[] =>
    typeof value === 'object' && value !== null
      ? Object.entries(value).flatMap(([key, inner]) => [
          [...path, Array.isArray(value) ? Number(key) : key],
          ...places(inner, [...path, Array.isArray(value) ? Number(key) : key]),
        ])
      : []
  const ajv = new Ajv({ allErrors: false, allowUnionTypes: true })
  formats.default(ajv)
  const valid = ajv.compile(published)
  it('is planned or refused with a place, never thrown at (random files with one place spoiled)', () => {
    fc.assert(
      fc.property(anyNetwork, fc.nat(), junk, (network, where, value) => {
        const file = JSON.parse(JSON.stringify(network)) as Record<string, unknown>
        const all = places(file)
        const path = all[where % all.length]!
        const holder = path.slice(0, -1).reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], file)
        ;(holder as Record<string | number, unknown>)[path.at(-1)!] = value
        const checked = checkInput(file)
        if (checked.ok) {
          // What is taken also fits the published schema, as an outside library reads it.
          expect([valid(file), valid.errors]).toEqual([true, null])
          plan(checked.value)
        } else {
          expect(checked.error.every((fault) => fault.path !== '' && fault.sentence.length > 5)).toBe(true)
        }
      }),
      { numRuns: runs(1500) },
    )
  })
})

describe('npm run plan', () => {
  const folder = mkdtempSync(join(tmpdir(), 'plan-file-'))
  const run = (name: string, text: string): { code: number; out: string; said: string } => {
    const file = join(folder, name)
    writeFileSync(file, text)
    const options: ExecFileSyncOptionsWithStringEncoding = { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }
    try {
      return { code: 0, out: execFileSync(process.execPath, ['scripts/plan.mjs', file], options), said: '' }
    } catch (error) {
      const { status, stdout, stderr } = error as { status: number; stdout: string; stderr: string }
      return { code: status, out: stdout, said: stderr }
    }
  }
  it('writes the plan; a wrong file ends with 2 and a sentence for each fault, and no stack', () => {
    const fine = run('fine.json', JSON.stringify(good()))
    expect([fine.code, Object.keys(JSON.parse(fine.out) as object)]).toEqual([
      0,
      ['nodes', 'orders', 'pegs', 'messages'],
    ])
    const wrong = run('wrong.json', JSON.stringify(changed(['nodes', 0, 'source', 'leadDays'], -1)))
    expect([wrong.code, wrong.out]).toEqual([2, ''])
    expect(wrong.said).toContain('nodes[0].source.leadDays must be a whole number of days from 0 to 3650.')
    const beyond = run(
      'beyond.json',
      JSON.stringify({ ...shelf, nodes: [{ ...x, source: { ...source, maximum: 1 } }] }),
    )
    expect([beyond.code, beyond.said]).toEqual([
      2,
      expect.stringContaining('node x needs more than ten thousand orders for one day.'),
    ])
    const broken = run('broken.json', '{"start": ')
    expect(broken.code).toBe(2)
    expect(`${wrong.said}${broken.said}`).not.toMatch(/\n\s+at /)
    rmSync(folder, { recursive: true })
  }, 60_000)
})
