/**
 * Writes the name of its column on each cell of a table, for where the head cannot stand above it, and keeps the table a
 * table for those who hear it: its rows are then drawn as something else.
 */
export function labelCells(table: HTMLTableElement): void {
  const names = [...(table.tHead?.rows[table.tHead.rows.length - 1]?.cells ?? [])].flatMap((head) =>
    Array.from({ length: head.colSpan }, () => head.textContent.trim()),
  )
  table.setAttribute('role', 'table')
  const parts = [...table.tBodies, ...(table.tFoot ? [table.tFoot] : [])]
  for (const row of parts.flatMap((part) => [...part.rows])) {
    row.setAttribute('role', 'row')
    let at = 0
    for (const cell of row.cells) {
      cell.setAttribute('role', cell.tagName === 'TH' ? 'rowheader' : 'cell')
      const name = cell.colSpan === 1 ? names[at] : ''
      if (name) {
        cell.dataset.label = name
      } else {
        delete cell.dataset.label
      }
      at += cell.colSpan
    }
  }
}
