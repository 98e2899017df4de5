import { sql } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { GivenUp } from '~~/server/jobs/given-up'
import { HANDLERS, type Handlers } from '~~/server/jobs/handlers'
import { Workers } from '~~/server/jobs/workers'
import { createPlan, runPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { release } from '~~/server/services/planning/release'
import {
  askRun,
  cancelRun,
  computeApart,
  enqueueUncomputedPlans,
  readRun,
  settled,
} from '~~/server/services/planning/runs'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, refusalOf, withDemo } from './database'

withDemo()

/** In this thread, so that a test can hold it up. */
const here: Handlers['plan'] = (data, jobId, { onPhase }) => computeApart(data, jobId, onPhase)

describe('plans that wait to be computed', () => {
  const edit = NewPlan.parse({ name: 'Queued', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' })
  const make = async (): Promise<number> => (await inTransaction((tx) => createPlan(tx, owner, edit, askRun))).id
  const ask = (plan: number): Promise<unknown> => inTransaction((tx) => askRun(tx, owner, plan))
  const orders = async (plan: number): Promise<string[]> =>
    (await readPlan(plan, owner.today)).orders.map(
      (o) => `${o.kind} ${o.code} ${o.quantity} ${o.releaseOn} ${o.dueOn} ${o.site}`,
    )
  const begun: Workers[] = []
  const begin = async (plan: Handlers['plan'] = here): Promise<Workers> => {
    const workers = new Workers({ ...HANDLERS, plan }, ['plan'])
    begun.push(workers)
    await workers.start()
    return workers
  }
  const stopAll = async (): Promise<void> => {
    for (const workers of begun.splice(0)) {
      await workers.stop()
    }
  }
  beforeEach(async () => {
    await rows(db, sql`delete from jobs.job`)
    await rows(db, sql`delete from job_runs`)
  })
  afterEach(stopAll)

  it('is read as it was at one moment, however often it is computed meanwhile', async () => {
    const plan = await make()
    const job = { planId: plan, userId: owner.userId, today: owner.today }
    const torn: number[][] = []
    let isOver = false
    const read = async (): Promise<void> => {
      while (!isOver) {
        const { version, run } = await readPlan(plan, owner.today)
        torn.push(...(version === run.version ? [] : [[version, run.version]]))
      }
    }
    const reading = [read(), read()]
    for (let times = 0; times < 6; times++) {
      await ask(plan)
      const [asked] = await rows<{ id: string }>(db, sql`select id from jobs.job order by created_on desc limit 1`)
      await computeApart(job, asked!.id, () => undefined)
    }
    isOver = true
    await Promise.all(reading)
    expect(torn).toEqual([])
  })

  it('one that was never computed is there, empty, and says that it waits', async () => {
    const plan = await make()
    expect(await readPlan(plan, owner.today)).toMatchObject({
      name: 'Queued',
      orders: [],
      nodes: [],
      run: { state: 'waiting', hasResult: false },
    })
    expect(await inTransaction((tx) => cancelRun(tx, plan))).toEqual({ cancelled: true })
    expect((await readRun(plan)).state).toBe('cancelled')
    expect(await inTransaction((tx) => cancelRun(tx, plan))).toEqual({ cancelled: false })
  })
  it('computed apart it says the same as computed at once', async () => {
    const plan = await make()
    await begin()
    expect(await settled(plan, 10_000)).toMatchObject({ state: 'done', hasResult: true })
    const apart = await orders(plan)
    expect(apart.length).toBeGreaterThan(30)
    await inTransaction((tx) => runPlan(tx, owner, plan))
    expect(await orders(plan)).toEqual(apart)
  })
  it('eight plans and two workers: each is computed once', async () => {
    const plans = await Promise.all(Array.from({ length: 8 }, make))
    const taken: number[] = []
    const counting: Handlers['plan'] = (data, jobId, progress) => {
      taken.push(data.planId)
      return here(data, jobId, progress)
    }
    await begin(counting)
    await begin(counting)
    for (const plan of plans) {
      expect((await settled(plan, 30_000)).state).toBe('done')
    }
    expect(taken.sort((a, b) => a - b)).toEqual([...plans].sort((a, b) => a - b))
  })
  it('asked for ten times while it waits, it is computed once', async () => {
    const plan = await make()
    for (let asked = 0; asked < 10; asked++) {
      await ask(plan)
    }
    let times = 0
    await begin((data, jobId, progress) => {
      times++
      return here(data, jobId, progress)
    })
    expect((await settled(plan, 10_000)).state).toBe('done')
    expect(times).toBe(1)
  })
  it('what is changed while it is computed is computed after; nothing half is written', async () => {
    const plan = await make()
    const stored: boolean[] = []
    await begin(async (data, jobId, { onPhase }) => {
      const isFirst = stored.length === 0
      await computeApart(data, jobId, async (phase, percent) => {
        onPhase(phase, percent)
        if (isFirst && phase === 'netting every item') {
          await ask(plan)
        }
      })
      stored.push((await readRun(plan)).hasResult)
    })
    await expect.poll(() => stored.length, { timeout: 20_000 }).toBe(2)
    expect(stored).toEqual([false, true])
    expect((await settled(plan, 10_000)).state).toBe('done')
  })
  it('a worker that is gone has its plan computed by another', async () => {
    const plan = await make()
    // Begun by a worker that died without a word: nobody holds its lock.
    await rows(
      db,
      sql`
        with gone as (
          update jobs.job set state = 'active', started_on = now() where name = 'plan' returning id
        )
        insert into job_runs (job_id, queue, worker) select id, 'plan', 5 from gone`,
    )
    expect((await readRun(plan)).state).toBe('running')
    await begin()
    expect(await settled(plan, 30_000)).toMatchObject({ state: 'done', hasResult: true })
  })
  it('begun again and again without an end it is given up, and asked for again it is computed', async () => {
    const plan = await make()
    await rows(
      db,
      sql`
        with gone as (
          update jobs.job
          set state = 'active', started_on = now(), retry_count = retry_limit
          where name = 'plan'
          returning id
        )
        insert into job_runs (job_id, queue, worker) select id, 'plan', 5 from gone`,
    )
    await begin()
    await expect.poll(async () => (await readRun(plan)).state, { timeout: 20_000 }).toBe('failed')
    expect((await readRun(plan)).problem).toContain('begun several times')
    await ask(plan)
    expect((await settled(plan, 20_000)).state).toBe('done')
  })
  it('stopped under way: the one who computes is told, nothing is written, what was there stays', async () => {
    const plan = await make()
    await begin()
    await settled(plan, 10_000)
    await stopAll()
    const before = await orders(plan)
    let isStopped = false
    await begin(
      (_, __, { signal }) =>
        new Promise((resolve) => {
          signal.addEventListener('abort', () => {
            isStopped = true
            resolve(undefined)
          })
        }),
    )
    await ask(plan)
    await expect.poll(async () => (await readRun(plan)).state).toBe('running')
    expect(await inTransaction((tx) => cancelRun(tx, plan))).toEqual({ cancelled: true })
    await expect.poll(() => isStopped, { timeout: 5000 }).toBe(true)
    expect(await readRun(plan)).toMatchObject({ state: 'cancelled', hasResult: true })
    expect(await orders(plan)).toEqual(before)
  })
  it('one that is stopped does not stop the next one', async () => {
    const plans = [await make(), await make()] as const
    const stopped: number[] = []
    let holdsFirst = true
    await begin((data, jobId, progress) => {
      if (data.planId !== plans[0] || !holdsFirst) {
        return here(data, jobId, progress)
      }
      return new Promise((resolve) =>
        progress.signal.addEventListener('abort', () => {
          stopped.push(data.planId)
          holdsFirst = false
          resolve(undefined)
        }),
      )
    })
    await expect.poll(async () => (await readRun(plans[0])).state).toBe('running')
    await inTransaction((tx) => cancelRun(tx, plans[0]))
    await ask(plans[0])
    expect(await settled(plans[0], 20_000)).toMatchObject({ state: 'done', hasResult: true })
    expect(await settled(plans[1], 20_000)).toMatchObject({ state: 'done', hasResult: true })
    expect(stopped).toEqual([plans[0]])
  })
  it('what was taken back while it was written down is not written', async () => {
    const plan = await make()
    await begin((data, jobId, { onPhase }) =>
      computeApart(data, jobId, async (phase, percent) => {
        onPhase(phase, percent)
        if (phase === 'writing it down') {
          await rows(db, sql`update jobs.job set state = 'cancelled' where id = ${jobId}`)
        }
      }),
    )
    await expect.poll(async () => (await readRun(plan)).state, { timeout: 10_000 }).toBe('cancelled')
    expect((await readRun(plan)).hasResult).toBe(false)
  })
  it('one that cannot be computed says so at once, and keeps what was there', async () => {
    const plan = await make()
    let times = 0
    await begin(() => {
      times++
      return Promise.reject(new GivenUp('It needs more memory than there is. Plan fewer items or fewer days.'))
    })
    expect(await settled(plan, 10_000)).toMatchObject({
      state: 'failed',
      problem: 'It needs more memory than there is. Plan fewer items or fewer days.',
    })
    expect(times).toBe(1)
  })
  it('one that fails in a way that was not foreseen is tried again, and is told in words', async () => {
    const plan = await make()
    let times = 0
    await begin(() => {
      times++
      return Promise.reject(new Error('relation "x" does not exist'))
    })
    await expect.poll(async () => (await readRun(plan)).state, { timeout: 20_000 }).toBe('failed')
    expect(times).toBe(6)
    expect((await readRun(plan)).problem).toContain('the plan is as it was')
  })
  it('one that was never computed and that nobody asks for, as after a backup came back, is asked for', async () => {
    const plan = await make()
    await rows(db, sql`delete from jobs.job`)
    await enqueueUncomputedPlans(db)
    expect((await readRun(plan)).state).toBe('waiting')
    await begin()
    expect(await settled(plan, 20_000)).toMatchObject({ state: 'done', hasResult: true })
    await rows(db, sql`delete from jobs.job`)
    await enqueueUncomputedPlans(db)
    expect((await readRun(plan)).state).toBe('done')
  })
  it('how far it is is told', async () => {
    const plan = await make()
    let finish = (): void => undefined
    await begin((_, __, { onPhase }) => {
      onPhase('netting every item', 45)
      return new Promise<void>((resolve) => {
        finish = resolve
      })
    })
    await expect.poll(() => readRun(plan)).toMatchObject({ state: 'running', phase: 'netting every item', percent: 45 })
    finish()
  })
  it('nothing is released from a plan that is being computed', async () => {
    const plan = await make()
    await begin()
    await settled(plan, 10_000)
    await stopAll()
    const [order] = (await readPlan(plan, owner.today)).orders
    await ask(plan)
    const { version } = await readRun(plan)
    expect((await refusalOf((tx) => release(tx, owner, plan, { version, orderIds: [order!.id] }))).message).toContain(
      'being computed just now',
    )
  })
})
