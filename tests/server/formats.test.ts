import { readFileSync } from 'node:fs'
import Ajv from 'ajv/dist/2020'
import formats from 'ajv-formats'
import { expect, it } from 'vitest'
import { eq } from 'drizzle-orm'
import { plan } from '~~/core/planning'
import { checkInput } from '~~/shared/planning/check-plan-file'
import { db } from '~~/server/database/client'
import { plans } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { createPlan } from '~~/server/services/planning/plans'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, withDemo } from './database'

withDemo()

const ajv = new Ajv({ allErrors: true, allowUnionTypes: true })
formats.default(ajv)
const schema = (name: string) =>
  ajv.compile(JSON.parse(readFileSync(`docs/formats/${name}.schema.json`, 'utf8')) as object)

// JSON Schema 2020-12, checked by ajv.
it('the demo’s snapshot and plan are what docs/formats says, and the stored plan is what the engine gives for the stored snapshot', async () => {
  const { id } = await inTransaction((tx) =>
    createPlan(tx, owner, NewPlan.parse({ name: 'All', kind: 'working', endsOn: '2026-12-31', forecastIds: [1] })),
  )
  const [row] = await db.select().from(plans).where(eq(plans.id, id))
  const [input, output] = [schema('plan-input'), schema('plan-output')]
  expect([input(row!.input), input.errors]).toEqual([true, null])
  expect([output(row!.output), output.errors]).toEqual([true, null])
  expect(checkInput(row!.input).ok).toBe(true)
  const again = plan(row!.input!)
  expect(again.ok && again.value).toEqual(row!.output)
})
