/** Which rows of a list are chosen: one by one, a run with the shift key, or all that are listed. */
export function useRowChoice<Row extends { readonly id: number | string }>(
  rowAt: (index: number) => Row | undefined,
  canChoose: (row: Row) => boolean = () => true,
) {
  const chosen = shallowRef<ReadonlyMap<Row['id'], Row>>(new Map())
  let last: number | null = null

  /** `isRun`: from the row that was chosen before to this one. */
  function choose(index: number, isOn: boolean, isRun: boolean): void {
    const from = isRun && last !== null ? last : index
    const next = new Map(chosen.value)
    for (let at = Math.min(from, index); at <= Math.max(from, index); at++) {
      const row = rowAt(at)
      if (row && isOn && canChoose(row)) {
        next.set(row.id, row)
      } else if (row) {
        next.delete(row.id)
      }
    }
    last = index
    chosen.value = next
  }
  function chooseAll(rows: readonly Row[]): void {
    chosen.value = new Map(rows.filter(canChoose).map((row) => [row.id, row]))
  }
  function clear(): void {
    chosen.value = new Map()
    last = null
  }
  return { chosen, choose, chooseAll, clear }
}
