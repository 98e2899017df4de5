import type { Reporter, TestModule } from 'vitest/node'
import { printSlowest } from './slowest'

/** Sums the run in one line, so that the closing line of `npm test` can add the runners up. */
export default class ClosingLine implements Reporter {
  onTestRunEnd(modules: readonly TestModule[], errors: readonly unknown[]): void {
    const states = modules.flatMap((module) => [...module.children.allTests()].map((test) => test.result().state))
    printSlowest(
      modules.flatMap((module) =>
        [...module.children.allTests()].map((test) => ({
          name: `${module.relativeModuleId} › ${test.fullName.replaceAll(' > ', ' › ')}`,
          ms: test.diagnostic()?.duration ?? 0,
        })),
      ),
    )
    const broken = modules.filter(
      (module) =>
        module.state() === 'failed' &&
        [...module.children.allTests()].every((test) => test.result().state !== 'failed'),
    ).length
    const count = (state: string): number => states.filter((s) => s === state).length
    process.stdout.write(
      `\n${count('passed')} passed, ${count('failed') + broken + errors.length} failed, ${count('skipped') + count('pending')} skipped\n`,
    )
  }
}
