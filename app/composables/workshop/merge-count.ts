import { ratio, toText } from '~~/core/units/exact'
import type { BuildAnswer, BuildLineAnswer } from '~~/shared/workshop/answers'
import type { Merged, Waiting } from './use-outbox'

type Build = Pick<BuildAnswer, 'left' | 'version' | 'symbol' | 'code' | 'number'> & {
  readonly components: readonly Pick<BuildLineAnswer, 'id' | 'next' | 'finestStep'>[]
}

export const summaryOf = ({ symbol, code }: Pick<BuildAnswer, 'symbol' | 'code'>, count: number | string): string =>
  `${count} ${symbol} ${code}`

/**
 * What a line takes for a count, from the lot that was scanned: its share of what is left by the bill, up to a finest
 * step.
 */
export function amountFor(
  build: Pick<BuildAnswer, 'left'>,
  line: Pick<BuildLineAnswer, 'next' | 'finestStep'>,
  count: number,
): string {
  const steps = ratio(line.next)
    .mul(ratio(String(count)))
    .div(ratio(build.left))
    .div(ratio(line.finestStep))
  return toText(ratio(steps.d === 1n ? steps.n : steps.n / steps.d + 1n).mul(ratio(line.finestStep)))
}

/**
 * What of a recorded count still fits a build that another device has recorded on meanwhile: as many as are left, with
 * what they take by the bill; what is over was made twice, and is left to a person.
 */
export function mergeCount(
  act: Waiting,
  build: Build,
  amountOf: (line: Build['components'][number], count: number) => string,
): Merged {
  const made = Number(act.body.made)
  const count = Math.min(made, Math.floor(Number(build.left)))
  const over = made - count
  const rest =
    over > 0
      ? {
          summary: summaryOf(build, over),
          reason: `Meanwhile another device has recorded on ${build.number}, and no more of it is left. Record it on the job's page if it was made beyond.`,
        }
      : null
  if (count <= 0) {
    return { fits: null, rest }
  }
  const lines = new Map(build.components.map((line) => [line.id, line]))
  const uses = (act.body.uses as { lineId: number }[]).flatMap((use) => {
    const line = lines.get(use.lineId)
    return line && line.next !== '0' ? [{ ...use, quantity: amountOf(line, count) }] : []
  })
  return {
    fits: {
      summary: summaryOf(build, count),
      body: { ...act.body, version: build.version, made: String(count), uses },
    },
    rest,
  }
}
