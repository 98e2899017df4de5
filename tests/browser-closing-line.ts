import type { FullResult, Reporter, Suite } from '@playwright/test/reporter'
import { printSlowest } from './slowest'

/** Sums the run in one line, as the other runner does. */
export default class BrowserClosingLine implements Reporter {
  private root?: Suite
  onBegin(_config: unknown, root: Suite): void {
    this.root = root
  }
  onEnd(result: FullResult): void {
    const tests = this.root?.allTests() ?? []
    printSlowest(
      tests.map((test) => ({
        name: test.titlePath().filter(Boolean).join(' › '),
        ms: test.results.reduce((sum, result) => sum + result.duration, 0),
      })),
    )
    const outcomes = tests.map((test) => test.outcome())
    const count = (...kinds: string[]): number => outcomes.filter((outcome) => kinds.includes(outcome)).length
    const failed = count('unexpected')
    process.stdout.write(
      `\n${count('expected', 'flaky')} passed, ${failed === 0 && result.status !== 'passed' ? 1 : failed} failed, ${count('skipped')} skipped\n`,
    )
  }
}
