import { ratio, toText, type Ratio } from '~~/core/units/exact'
import { useForPart } from '~~/core/structure/lines'
import type { SCRAP_REASONS } from '~~/shared/workshop/words'
import type { BuildAnswer, BuildLineAnswer } from '~~/shared/workshop/answers'
import type { MeasuredItem } from '../ui/use-measure'

/** One use of a component that is said by hand, in place of what the bill takes. */
export interface NamedUse {
  line: BuildLineAnswer
  measured: MeasuredItem | null
  quantity: string
  unit: string
  balanceId: number | null
  scrap: '' | (typeof SCRAP_REASONS)[number]
}

/** One use that is said by hand, as a draft keeps it. */
type KeptUse = Omit<NamedUse, 'line' | 'measured'> & { readonly lineId: number }

/** What a build that is being recorded takes of each component: by its bill, unless it is said otherwise by hand. */
export function useBuildUses(build: () => BuildAnswer, made: () => Ratio) {
  const { asTyped } = usePrint()
  const rows = ref<NamedUse[]>([])
  /** What a line takes by the bill for what is made now. */
  const byBill = (line: BuildLineAnswer): string =>
    made().equals(0)
      ? '0'
      : toText(
          useForPart(
            { need: ratio(line.need), rest: ratio(line.rest), finestStep: ratio(line.finestStep) },
            { quantity: ratio(build().quantity), left: ratio(build().left) },
            made(),
          ),
        )
  /** Where that comes from now: what is set aside first, then the picking order. */
  function takesOf(line: BuildLineAnswer) {
    const wanted = ratio(byBill(line))
    let left = wanted
    const takes = line.choices
      .filter((choice) => choice.byOrder)
      .flatMap((choice) => {
        const taken = ratio(choice.free).compare(left) < 0 ? ratio(choice.free) : left
        left = left.sub(taken)
        return taken.equals(0)
          ? []
          : [
              {
                ...choice,
                quantity: toText(taken),
                before: choice.onHand,
                after: toText(ratio(choice.onHand).sub(taken)),
                missing: false,
              },
            ]
      })
    const none = { bin: '', lot: null, piece: null, expiresOn: null, before: '', after: '' }
    return left.equals(0) && takes.length > 0
      ? takes
      : [...takes, { ...none, quantity: toText(left), missing: !left.equals(0) }]
  }
  const isNamed = (line: BuildLineAnswer): boolean => rows.value.some((row) => row.line.id === line.id)
  async function name(line: BuildLineAnswer, scrap: NamedUse['scrap'] = ''): Promise<void> {
    const measured = await fetchMeasured(line.itemId)
    // What was spoiled goes beside what the bill takes, so that is written down too.
    if (scrap !== '' && !isNamed(line)) {
      rows.value.push({
        line,
        measured,
        quantity: asTyped(byBill(line)),
        unit: measured.stockUnit,
        balanceId: null,
        scrap: '',
      })
    }
    rows.value.push({
      line,
      measured,
      quantity: scrap === '' ? asTyped(byBill(line)) : '',
      unit: measured.stockUnit,
      balanceId: null,
      scrap,
    })
  }
  /** What is said by hand, to be kept as a draft. */
  const kept = (): KeptUse[] =>
    rows.value.map(({ line, quantity, unit, balanceId, scrap }) => ({
      lineId: line.id,
      quantity,
      unit,
      balanceId,
      scrap,
    }))
  /** What was kept, as far as the build has such components still, and such stock. */
  async function bringBack(uses: readonly KeptUse[]): Promise<void> {
    rows.value = uses.flatMap(({ lineId, ...typed }) => {
      const line = build().components.find((entry) => entry.id === lineId)
      const isThere = line?.choices.some((choice) => choice.balanceId === typed.balanceId)
      return line ? [{ line, measured: null, ...typed, balanceId: isThere ? typed.balanceId : null }] : []
    })
    for (const row of rows.value) {
      row.measured = await fetchMeasured(row.line.itemId)
    }
  }
  return { rows, byBill, takesOf, isNamed, name, kept, bringBack }
}
export type BuildUses = ReturnType<typeof useBuildUses>
