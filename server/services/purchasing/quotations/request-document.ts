import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { makePdf } from '~~/server/utils/pdf'
import { Refusal } from '~~/server/utils/refusal'
import { loadUnits } from '../../catalogue/measured-items'
import { loadCompany, loadWriting } from '../../company/company'
import { loadRequest } from './load-request'
import { quotationWorkbook } from './quotation-file'
import { supplierCodesOf } from './supplier-codes'

/** A request for quotation to one supplier, as a PDF on A4. Errors: `not-found`. */
export async function requestDocument(
  requestId: number,
  supplierId: number,
  today: string,
): Promise<{ name: string; bytes: Buffer }> {
  const [company, writing, units] = await Promise.all([loadCompany(), loadWriting(), loadUnits(db)])
  const request = await loadRequest(db, requestId, today)
  const [supplier] = await rows<{ name: string; address: string }>(
    db,
    sql`
      select s.name, s.address
      from quotations q
      join suppliers s on s.id = q.supplier_id
      where q.request_id = ${requestId} and s.id = ${supplierId}`,
  )
  if (!supplier) {
    throw new Refusal('not-found', 'This supplier is not asked.')
  }
  const codes = await supplierCodesOf(supplierId)
  const symbols = new Map(units.map((unit) => [unit.code, unit.symbol]))
  const day = (iso: string): string => printDay(iso, '', writing.dateFormat)
  const bytes = await makePdf({
    pageSize: 'A4',
    pageMargins: [48, 48, 48, 60],
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    info: { title: `Request for quotation ${request.number}` },
    footer: (page, pages) => ({
      text: `${request.number} · ${page} of ${pages}`,
      alignment: 'center',
      color: '#777777',
      fontSize: 8,
    }),
    content: [
      { text: company?.name ?? '', fontSize: 11, bold: true },
      { text: `Request for quotation ${request.number}`, fontSize: 20, bold: true, margin: [0, 18, 0, 2] },
      { text: `Asked on ${day(request.askedOn)} · please answer by ${day(request.answerBy)}`, color: '#555555' },
      { text: `${supplier.name}\n${supplier.address}`, margin: [0, 18, 0, 18] },
      ...(request.site === null ? [] : [{ text: ['Deliver to ', { text: request.site, bold: true }] }]),
      {
        table: {
          headerRows: 1,
          widths: [14, '*', 'auto', 'auto', 'auto', 70, 60],
          body: [
            ['', 'Item', 'Your code', 'Quantity', 'Needed by', 'Price for one', 'Lead time'].map((text) => ({
              text,
              bold: true,
            })),
            ...request.lines.map((line) => [
              String(line.line),
              { text: [{ text: `${line.code}\n`, bold: true }, line.name] },
              codes.get(line.itemId) ?? '',
              { text: `${grouped(line.entered, writing)} ${symbols.get(line.unit) ?? line.unit}`, noWrap: true },
              { text: day(line.neededOn), noWrap: true },
              '',
              '',
            ]),
          ],
        },
        layout: 'lightHorizontalLines',
        margin: [0, 10, 0, 12],
      },
      {
        text: 'Please tell us prices for larger quantities, the least you sell, freight and other charges, and until when you hold your prices.',
        margin: [0, 6, 0, 0],
      },
      ...(request.note === ''
        ? []
        : [{ text: request.note, margin: [0, 12, 0, 0] as [number, number, number, number] }]),
    ],
  })
  return { name: `${request.number}.pdf`, bytes }
}

/** What goes along with the letter to each supplier: the request to be read, and the workbook to be filled in. */
export async function filesOfRequest(
  requestId: number,
  supplierIds: readonly number[],
  today: string,
): Promise<{ readonly supplierId: number; readonly files: { name: string; content: Uint8Array; type: string }[] }[]> {
  const answer = []
  for (const supplierId of supplierIds) {
    const pdf = await requestDocument(requestId, supplierId, today)
    const workbook = await quotationWorkbook(requestId, supplierId, today)
    answer.push({
      supplierId,
      files: [
        { name: pdf.name, content: pdf.bytes, type: 'application/pdf' },
        {
          name: workbook.name,
          content: workbook.bytes,
          type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        },
      ],
    })
  }
  return answer
}
