import { startRunner } from '~~/server/jobs/plan-runner'
import { databaseReady } from '~~/server/utils/database-state'

/** Computes the plans that wait. */
export default defineNitroPlugin((nitro) => {
  let stop = (): void => undefined
  databaseReady().then(
    () => {
      const runner = startRunner()
      stop = () => runner.stop()
    },
    () => undefined,
  )
  nitro.hooks.hook('close', () => stop())
})
