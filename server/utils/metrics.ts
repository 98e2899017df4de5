import { collectDefaultMetrics, Gauge, Histogram, Registry, type OpenMetricsContentType } from 'prom-client'
import { sql } from 'drizzle-orm'
import { db, pool, rows } from '~~/server/database/client'

/** Figures for a watching program, in the text format of OpenMetrics. */
export const metrics = new Registry<OpenMetricsContentType>()
metrics.setContentType(Registry.OPENMETRICS_CONTENT_TYPE)
collectDefaultMetrics({ register: metrics, prefix: 'tsumiki_' })

/** How long requests took, by the route as it is written, its method and the status. */
export const requestSeconds = new Histogram({
  name: 'tsumiki_request_seconds',
  help: 'Seconds that requests took',
  labelNames: ['method', 'route', 'status'],
  buckets: [0.01, 0.025, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30],
  registers: [metrics],
})

new Gauge({
  name: 'tsumiki_work',
  help: 'Pieces of background work by kind and state',
  labelNames: ['kind', 'state'],
  registers: [metrics],
  async collect() {
    this.reset()
    const found = await rows<{ kind: string; state: string; count: number }>(
      db,
      sql`
        select name as kind, state::text as state, count(*)::int as count
        from jobs.job
        where state <> 'completed' and name not like '\\_\\_%'
        group by name, state`,
    )
    for (const { kind, state, count } of found) {
      this.set({ kind, state }, count)
    }
  },
})

new Gauge({
  name: 'tsumiki_database_connections',
  help: 'Connections to the database: all, idle, and requests that wait for one',
  labelNames: ['state'],
  registers: [metrics],
  collect() {
    this.set({ state: 'all' }, pool.totalCount)
    this.set({ state: 'idle' }, pool.idleCount)
    this.set({ state: 'waiting' }, pool.waitingCount)
  },
})
