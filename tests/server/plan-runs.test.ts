import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { PlanRunner, type Execution } from '~~/server/jobs/plan-runner'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { createPlan, runPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { release } from '~~/server/services/planning/release'
import {
  askRun,
  beat,
  cancelRun,
  claimRun,
  computeApart,
  endRun,
  readRun,
  settled,
  type Claim,
} from '~~/server/services/planning/runs'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, refusalOf, withDemo } from './database'

withDemo()

describe('plans that wait to be computed', () => {
  const edit = NewPlan.parse({ name: 'Queued', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' })
  const make = async (): Promise<number> => (await inTransaction((tx) => createPlan(tx, owner, edit, askRun))).id
  const orders = async (plan: number): Promise<string[]> =>
    (await readPlan(plan, owner.today)).orders.map(
      (o) => `${o.kind} ${o.code} ${o.quantity} ${o.releaseOn} ${o.dueOn} ${o.site}`,
    )
  const here = (claim: Claim, onProgress: (phase: string, percent: number) => void): Execution => ({
    done: computeApart(claim, onProgress),
    stop: () => undefined,
  })
  const runners: PlanRunner[] = []
  const begin = (execute = here): PlanRunner => {
    const runner = new PlanRunner(execute)
    runners.push(runner)
    runner.start()
    return runner
  }
  beforeEach(async () => {
    await rows(db, sql`delete from plan_runs`)
  })
  afterEach(() => {
    for (const runner of runners.splice(0)) {
      runner.stop()
    }
  })

  it('one that was never computed is there, empty, and says that it waits', async () => {
    const plan = await make()
    expect(await readPlan(plan, owner.today)).toMatchObject({
      name: 'Queued',
      orders: [],
      nodes: [],
      run: { state: 'waiting', hasResult: false },
    })
    await inTransaction((tx) => cancelRun(tx, plan))
    expect(await claimRun()).toBeNull()
    expect((await readRun(plan)).state).toBe('cancelled')
  })
  it('computed apart it says the same as computed at once', async () => {
    const plan = await make()
    begin()
    expect(await settled(plan, 10_000)).toMatchObject({ state: 'done', hasResult: true })
    const apart = await orders(plan)
    expect(apart.length).toBeGreaterThan(30)
    await inTransaction((tx) => runPlan(tx, owner, plan))
    expect(await orders(plan)).toEqual(apart)
  })
  it('eight plans and two servers: each is computed once', async () => {
    const plans = await Promise.all(Array.from({ length: 8 }, make))
    const taken: number[] = []
    const counting = (claim: Claim, onProgress: (phase: string, percent: number) => void): Execution => {
      taken.push(claim.planId)
      return here(claim, onProgress)
    }
    begin(counting)
    begin(counting)
    for (const plan of plans) {
      expect((await settled(plan, 20_000)).state).toBe('done')
    }
    expect(taken.sort((a, b) => a - b)).toEqual([...plans].sort((a, b) => a - b))
  })
  it('what is asked for while it is computed is computed after; nothing half is written', async () => {
    const plan = await make()
    const first = (await claimRun())!
    expect(await claimRun()).toBeNull()
    await inTransaction((tx) => askRun(tx, owner, plan))
    const { version } = await readRun(plan)
    await computeApart(first, () => undefined)
    expect(await readRun(plan)).toMatchObject({ version, hasResult: false, state: 'running' })
    await endRun(first, null)
    expect((await readRun(plan)).state).toBe('waiting')
    begin()
    expect(await settled(plan, 10_000)).toMatchObject({ state: 'done', hasResult: true, version: version + 1 })
  })
  it('a server that is gone has its plan computed by another; after three times it is given up', async () => {
    const plan = await make()
    const age = () => rows(db, sql`update plan_runs set beat_at = now() - interval '1 minute' where plan_id = ${plan}`)
    for (const tries of [1, 2, 3]) {
      expect((await claimRun())?.planId).toBe(plan)
      expect(await claimRun()).toBeNull()
      expect(
        (await rows<{ tries: number }>(db, sql`select tries from plan_runs where plan_id = ${plan}`))[0]!.tries,
      ).toBe(tries)
      await age()
    }
    expect(await claimRun()).toBeNull()
    expect(await readRun(plan)).toMatchObject({
      state: 'failed',
      problem: expect.stringContaining('begun several times') as string,
    })
    // Asked for again, it is computed.
    await inTransaction((tx) => askRun(tx, owner, plan))
    begin()
    expect((await settled(plan, 10_000)).state).toBe('done')
  })
  it('stopped under way: the one who computes is told, nothing is written, what was there stays', async () => {
    const plan = await make()
    begin()
    await settled(plan, 10_000)
    const before = await orders(plan)
    for (const runner of runners.splice(0)) {
      runner.stop()
    }
    let stopped = 0
    let finish = (): void => undefined
    begin(() => ({
      done: new Promise<void>((resolve) => {
        finish = resolve
      }),
      stop: () => {
        stopped++
        finish()
      },
    }))
    await inTransaction((tx) => askRun(tx, owner, plan))
    runners[0]!.checkQueue()
    await expect.poll(async () => (await readRun(plan)).state).toBe('running')
    expect(await inTransaction((tx) => cancelRun(tx, plan))).toEqual({ cancelled: true })
    await expect.poll(() => stopped, { timeout: 5000 }).toBeGreaterThan(0)
    expect(await readRun(plan)).toMatchObject({ state: 'cancelled', hasResult: true })
    expect(await orders(plan)).toEqual(before)
  })
  it('one that fails says so, and keeps what was there', async () => {
    const plan = await make()
    begin(() => ({
      done: Promise.reject(Object.assign(new Error('full'), { code: 'ERR_WORKER_OUT_OF_MEMORY' })),
      stop: () => undefined,
    }))
    expect(await settled(plan, 10_000)).toMatchObject({
      state: 'failed',
      problem: 'It needs more memory than there is. Plan fewer items or fewer days.',
    })
  })
  it('how far it is is told; who is cancelled does not go on', async () => {
    const plan = await make()
    const claim = (await claimRun())!
    expect(await beat(claim, 'netting every item', 45)).toBe(true)
    expect(await readRun(plan)).toMatchObject({ phase: 'netting every item', percent: 45 })
    await inTransaction((tx) => cancelRun(tx, plan))
    expect(await beat(claim)).toBe(false)
    await endRun(claim, null)
    expect((await readRun(plan)).state).toBe('cancelled')
  })
  it('nothing is released from a plan that is being computed', async () => {
    const plan = await make()
    begin()
    await settled(plan, 10_000)
    for (const runner of runners.splice(0)) {
      runner.stop()
    }
    const [order] = (await readPlan(plan, owner.today)).orders
    await inTransaction((tx) => askRun(tx, owner, plan))
    const { version } = await readRun(plan)
    expect((await refusalOf((tx) => release(tx, owner, plan, { version, orderIds: [order!.id] }))).message).toContain(
      'being computed just now',
    )
  })
})
