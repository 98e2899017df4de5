import fc from 'fast-check'
import { expect, it } from 'vitest'
import { plan } from '~~/core/planning'
import { packLines, unpackLines } from '~~/shared/planning/plan-lines'
import { anyNetwork } from './random-network'
import { runs } from '~~/tests/property-runs'

it('lines come out of their packing as they went in, also through JSON (200 random networks)', () => {
  fc.assert(
    fc.property(anyNetwork, (input) => {
      const made = plan(input)
      if (!made.ok) {
        throw new Error(made.error.code)
      }
      const packed = JSON.stringify(packLines(made.value.nodes))
      expect(unpackLines(JSON.parse(packed) as ReturnType<typeof packLines>)).toEqual(made.value.nodes)
      expect(packed.length).toBeLessThan(JSON.stringify(made.value.nodes).length)
    }),
    { numRuns: runs(200) },
  )
})
it('nothing is packed into nothing', () => {
  expect(unpackLines(packLines([]))).toEqual([])
})
