import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { useForPart } from '~~/core/structure/lines'
import { ONE, ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import { buildMinutes, buildScraps, buildUses } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { readIfGiven, type MeasuredItem } from '../catalogue/measured-items'
import type { BomHead } from '../structure/bind-structure'
import { workOf } from './bill-needs'
import type { Build, BuildLine } from './build-status'
import type { Wanted } from './issue-components'
import type { RecordEdit } from './record-build'

/** What is taken for each line: as it was typed, else as the bill says for what came out. */
export function wantedOf(
  build: Build,
  lines: readonly BuildLine[],
  items: ReadonlyMap<number, MeasuredItem>,
  edit: RecordEdit,
  made: Ratio,
): Wanted[] {
  const said = groupBy(
    edit.uses.map((use, index) => ({ ...use, index })),
    (use) => use.lineId,
  )
  const strange = edit.uses.findIndex((use) => !lines.some((line) => line.id === use.lineId))
  if (strange >= 0) {
    throw new Refusal('invalid-input', 'This line is not there any more. Reload the page.', {
      [`uses.${strange}.quantity`]: 'This line is not there any more.',
    })
  }
  return lines.flatMap((line): Wanted[] => {
    const item = items.get(line.itemId)!
    const own = said.get(line.id)
    if (own) {
      return own.flatMap((use) => {
        const field = `uses.${use.index}.quantity`
        const read = readIfGiven(item, use.quantity, use.unit, field)
        return read
          ? {
              lineId: line.id,
              item,
              quantity: read.quantity,
              balanceId: use.balanceId,
              entered: read.entered,
              unit: read.unit,
              residue: read.residue,
              field,
            }
          : []
      })
    }
    if (made.equals(ZERO)) {
      return []
    }
    const quantity = useForPart(
      { need: ratio(line.need), rest: restOf(line), finestStep: item.measure.finestStep },
      leftOf(build),
      made,
    )
    return quantity.equals(ZERO)
      ? []
      : [
          {
            lineId: line.id,
            item: item,
            quantity,
            balanceId: null,
            entered: toText(quantity),
            unit: item.stockUnit,
            residue: ZERO,
            field: '',
          },
        ]
  })
}

const restOf = (line: BuildLine): Ratio => {
  const rest = ratio(line.need).sub(ratio(line.covered))
  return rest.compare(ZERO) > 0 ? rest : ZERO
}

const leftOf = (build: Build): { quantity: Ratio; left: Ratio } => ({
  quantity: ratio(build.quantity),
  left: ratio(build.quantity).sub(ratio(build.made)),
})

/** A build with its lines, and the items of all of them. */
export interface BuildWithLines {
  readonly build: Build
  readonly lines: readonly BuildLine[]
  readonly items: ReadonlyMap<number, MeasuredItem>
}

/**
 * How much of each line's need this posting accounts for, and which fraction of the value in work comes out with it.
 *
 * What is used with goods that come out is theirs, however much it was; what is used with nothing coming out lies in
 * work ahead, and goes to the parts to come by their size. The last part takes all.
 */
export async function accountFor(
  tx: Tx,
  { build, lines, items }: BuildWithLines,
  wanted: readonly Wanted[],
  edit: RecordEdit,
  part: { readonly made: Ratio; readonly finished: boolean; readonly head: BomHead },
): Promise<{ uses: { lineId: number; covers: string; ahead: string }[]; fraction: Ratio }> {
  const { made, finished, head } = part
  const { quantity, left } = leftOf(build)
  const before = new Map(
    (
      await rows<{ lineId: number; ahead: string }>(
        tx,
        sql`
          select u.line_id as "lineId", sum(u.ahead) as ahead
          from build_uses u
          join build_lines l on l.id = u.line_id
          where l.build_id = ${build.id}
            and ${notReversed('u.posting_id')}
          group by 1`,
      )
    ).map((row) => [row.lineId, ratio(row.ahead)]),
  )
  let [out, stays] = [ratio(workOf(head, made, edit.minutes === null ? null : ratio(edit.minutes))), ZERO]
  const uses = lines.map((line) => {
    const planned = ratio(line.planned).compare(ZERO) > 0 ? ratio(line.planned) : ONE
    const used = wanted.filter((cut) => cut.lineId === line.id).reduce((sum, cut) => sum.add(cut.quantity), ZERO)
    const good = used.sub(scrapOf(line, items, edit))
    const ahead = before.get(line.id) ?? ZERO
    if (made.equals(ZERO)) {
      const covers = good.compare(restOf(line)) < 0 ? good : restOf(line)
      return { lineId: line.id, covers: toText(covers), ahead: toText(covers) }
    }
    const gone = finished || left.compare(ZERO) <= 0 ? ahead : onSixth(ahead.mul(made).div(left))
    out = out.add(used.add(gone).mul(planned))
    stays = stays.add(ahead.sub(gone).mul(planned))
    const rest = restOf(line)
    const share = useForPart(
      { need: ratio(line.need), rest, finestStep: items.get(line.itemId)!.measure.finestStep },
      { quantity, left },
      made,
    )
    return { lineId: line.id, covers: toText(share.compare(rest) < 0 ? share : rest), ahead: toText(ZERO.sub(gone)) }
  })
  return {
    uses,
    fraction: finished || stays.equals(ZERO) || out.add(stays).equals(ZERO) ? ONE : out.div(out.add(stays)),
  }
}

/** Decimal, as it is stored. */
const onSixth = (amount: Ratio): Ratio => ratio((amount.n * 1_000_000n) / amount.d, 1_000_000n)

const scrapOf = (line: BuildLine, items: ReadonlyMap<number, MeasuredItem>, edit: RecordEdit): Ratio =>
  edit.uses
    .filter((use) => use.lineId === line.id && use.scrap !== '')
    .map((use) => readIfGiven(items.get(line.itemId)!, use.quantity, use.unit, 'uses')?.quantity ?? ZERO)
    .reduce((sum, quantity) => sum.add(quantity), ZERO)

export async function noteUses(
  tx: Tx,
  postingId: number,
  uses: readonly { lineId: number; covers: string; ahead: string }[],
): Promise<void> {
  const recorded = uses.filter((use) => use.covers !== '0' || use.ahead !== '0')
  if (recorded.length > 0) {
    await tx.insert(buildUses).values(recorded.map((use) => ({ ...use, postingId })))
  }
}

/** What the moves have no room for: why something was spoiled, and the minutes. */
export async function noteBeside(
  tx: Tx,
  postingId: number,
  { build, lines, items }: BuildWithLines,
  edit: RecordEdit,
  minutes: Ratio | null,
): Promise<void> {
  const scraps = edit.uses
    .filter((use) => use.scrap !== '')
    .flatMap((use) => {
      const item = items.get(lines.find((line) => line.id === use.lineId)!.itemId)!
      const read = readIfGiven(item, use.quantity, use.unit, 'uses')
      return read ? { postingId, lineId: use.lineId, quantity: toText(read.quantity), reason: use.scrap } : []
    })
  if (scraps.length > 0) {
    await tx.insert(buildScraps).values(scraps)
  }
  if (minutes !== null) {
    await tx.insert(buildMinutes).values({ postingId, buildId: build.id, minutes: toText(minutes) })
  }
}
