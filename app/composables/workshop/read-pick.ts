import { readScan } from '~~/core/codes'
import type { BuildLineAnswer, Choice } from '~~/shared/workshop/answers'

export type Picked =
  | { readonly ok: true; readonly line: BuildLineAnswer; readonly choice: Choice | null }
  | { readonly ok: false; readonly summary: string }

/**
 * What a scan means at the bench: the label of a piece, the number of a lot, or an item's code or barcode. `codes`
 * gives the barcodes of an item. Needs no connection.
 */
export function readPick(
  text: string,
  lines: readonly BuildLineAnswer[],
  codes: (itemId: number) => readonly string[],
): Picked {
  const scan = readScan(text)
  const same = (a: string | null, b: string | null): boolean =>
    a !== null && b !== null && a.toLowerCase() === b.toLowerCase()
  for (const line of lines) {
    const choice =
      line.choices.find((choice) => same(choice.piece, scan.code)) ??
      line.choices.find(
        (choice) =>
          same(choice.lot, scan.lot ?? scan.code) && (scan.gtin14 === null || codes(line.itemId).includes(scan.gtin14)),
      )
    if (choice) {
      return { ok: true, line, choice }
    }
  }
  const line = lines.find(
    (line) =>
      same(line.code, scan.code) || codes(line.itemId).some((code) => code === scan.gtin14 || same(code, scan.code)),
  )
  if (!line) {
    return { ok: false, summary: `“${text.trim()}” is nothing that this job takes.` }
  }
  return scan.lot !== null
    ? { ok: false, summary: `Lot ${scan.lot} of ${line.code} is not free here. Take another, or look where it lies.` }
    : { ok: true, line, choice: null }
}
