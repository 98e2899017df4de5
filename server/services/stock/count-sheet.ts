import { stringify } from 'csv-stringify/sync'
import { sql } from 'drizzle-orm'
import type { Content, TableCell } from 'pdfmake/interfaces'
import { typedQuantity } from '~~/core/units/quantity'
import { printDay } from '~~/core/calendar/days'
import { rows, type Tx } from '~~/server/database/client'
import { makePdf } from '~~/server/utils/pdf'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { readSheet } from '../catalogue/tables/read-file'
import { loadCompany, loadWriting } from '../company/company'
import { enterCounts } from './enter-counts'
import { loadCount } from './count-queries'

/**
 * The sheet to count by, as a PDF on A4: place by place, with room to write; what the books say only where the count is
 * not blind.
 */
export async function countSheet(id: number): Promise<{ name: string; bytes: Buffer }> {
  const count = await loadCount(id, false)
  const [company, { dateFormat }] = await Promise.all([loadCompany(), loadWriting()])
  const shown = count.lines.some((line) => line.booked !== null)
  const head: TableCell[] = ['Item', 'Lot, piece', ...(shown ? ['Book quantity'] : []), 'Counted'].map(
    (text, index) => ({
      text,
      bold: true,
      alignment: index > 1 ? 'right' : 'left',
    }),
  )
  const bins = [...new Set(count.lines.map((line) => `${line.site}, ${line.bin}`))]
  const content: Content = [
    { text: company?.name ?? '', fontSize: 11, bold: true },
    { text: `Count sheet ${count.number}`, fontSize: 20, bold: true, margin: [0, 14, 0, 2] },
    {
      text: `${count.name}. Opened on ${printDay(count.openedOn, '', dateFormat)} by ${count.who}. ${count.blind ? 'Count what is there; what the books say is left out on purpose.' : ''}`,
      color: '#555555',
    },
    { text: 'Counted by ____________________   on ____________', margin: [0, 14, 0, 4] },
    ...bins.flatMap((bin): Content[] => [
      { text: bin, fontSize: 12, bold: true, margin: [0, 14, 0, 4] },
      {
        table: {
          headerRows: 1,
          widths: ['*', 110, ...(shown ? [80] : []), 110],
          body: [
            head,
            ...count.lines
              .filter((line) => `${line.site}, ${line.bin}` === bin)
              .map((line): TableCell[] => [
                {
                  text: [
                    { text: `${line.code}  `, bold: true },
                    line.name,
                    ...(line.status === 'available' ? [] : [{ text: `  (${line.status})`, color: '#555555' }]),
                  ],
                },
                [line.lot, line.piece].filter(Boolean).join(', '),
                ...(shown ? [{ text: `${line.booked} ${line.symbol}`, alignment: 'right' as const }] : []),
                { text: `______________ ${line.symbol}`, alignment: 'right' },
              ]),
          ],
        },
        layout: 'lightHorizontalLines',
      },
    ]),
  ]
  const bytes = await makePdf({
    content,
    pageSize: 'A4',
    pageMargins: [48, 48, 48, 60],
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    info: { title: `Count sheet ${count.number}` },
    footer: (page, pages) => ({
      text: `${count.number} · ${page} of ${pages}`,
      alignment: 'center',
      color: '#777777',
      fontSize: 8,
    }),
  })
  return { name: `${count.number}.pdf`, bytes }
}

/**
 * The sheet as CSV, to be filled in and brought back: `counted` and `unit` are read, `line` says which line is meant.
 */
export async function countFile(id: number): Promise<{ name: string; text: string }> {
  const count = await loadCount(id, false)
  return {
    name: count.number,
    text: stringify(
      count.lines.map((line) => ({
        line: line.id,
        site: line.site,
        bin: line.bin,
        item: line.code,
        name: line.name,
        lot: line.lot ?? '',
        piece: line.piece ?? '',
        status: line.status,
        counted: line.entered,
        unit: line.unit || line.stockUnit,
        note: line.note,
      })),
      { header: true, escape_formulas: true, bom: true },
    ),
  }
}

/** Takes in a filled-in sheet: every line that has a quantity, or none and what is wrong. */
export async function enterCountFile(
  tx: Tx,
  actor: Actor,
  id: number,
  fileName: string,
  content: Buffer,
): Promise<{ entered: number; again: number[] }> {
  const sheet = await readSheet(fileName, content)
  for (const column of ['line', 'counted']) {
    if (!sheet.headings.includes(column)) {
      throw new Refusal(
        'invalid-input',
        `The file has no column “${column}”. Take the sheet as CSV from here, fill in “counted” and bring it back.`,
      )
    }
  }
  const known = new Map(
    (
      await rows<{ id: number; unit: string }>(
        tx,
        sql`
          select l.id, i.stock_unit as unit
          from count_lines l
          join items i on i.id = l.item_id
          where l.count_id = ${id}`,
      )
    ).map((line) => [line.id, line.unit]),
  )
  const filled = sheet.lines.filter(({ cells }) => (cells.counted ?? '').trim() !== '')
  if (filled.length === 0) {
    throw new Refusal('invalid-input', 'No line of the file has a quantity under “counted”.')
  }
  const entries = filled.map(({ line, cells }) => {
    const lineId = Number(cells.line)
    if (!known.has(lineId)) {
      throw new Refusal('invalid-input', `Line ${line}: “${cells.line}” is no line of this sheet.`)
    }
    return {
      line,
      entry: {
        lineId,
        quantity: typedQuantity(cells.counted!.trim()),
        unit: (cells.unit ?? '').trim() || known.get(lineId)!,
        note: (cells.note ?? '').trim(),
      },
    }
  })
  try {
    return await enterCounts(tx, actor, id, { lines: entries.map((entry) => entry.entry) })
  } catch (error) {
    if (!(error instanceof Refusal)) {
      throw error
    }
    const [field, detail] = Object.entries(error.fields ?? {})[0] ?? []
    const index = field === undefined ? undefined : entries[Number(field.split('.')[1])]
    throw index
      ? new Refusal(
          'invalid-input',
          `Line ${index.line}, counted “${index.entry.quantity}”: ${detail} Nothing was taken in.`,
        )
      : error
  }
}
