import type { Reporter, TestModule } from 'vitest/node'

/** Sums the run in one line, so that the closing line of `npm test` can add the runners up. */
export default class ClosingLine implements Reporter {
  onTestRunEnd(modules: readonly TestModule[], errors: readonly unknown[]): void {
    const states = modules.flatMap((module) => [...module.children.allTests()].map((test) => test.result().state))
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
