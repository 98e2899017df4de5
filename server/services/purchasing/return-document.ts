import bwip from 'bwip-js/node'
import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { makePdf } from '~~/server/utils/pdf'
import { Refusal } from '~~/server/utils/refusal'
import { loadCompany, loadWriting } from '../company/company'

interface Returned {
  readonly number: string
  readonly reference: string
  readonly reason: string
  readonly expects: string
  readonly on: string
  readonly order: string
  readonly supplier: string
  readonly address: string
  readonly code: string
  readonly name: string
  readonly supplierCode: string
  readonly lot: string
  readonly quantity: string
  readonly symbol: string
}

const WISH: Readonly<Record<string, string>> = {
  credit: 'Please send us a credit note.',
  replacement: 'Please send us a replacement.',
  'not invoiced': 'Please do not invoice these goods.',
}

/** The note that goes back with goods, as a PDF on A5: with its number as a Code 128 to be scanned. */
export async function returnDocument(id: number): Promise<{ name: string; bytes: Buffer }> {
  const [company, writing] = await Promise.all([loadCompany(), loadWriting()])
  const [back] = await rows<Returned>(
    db,
    sql`
      select
        r.number, r.reference, r.reason, r.expects, o.effective_on as on, b.number as order, s.name as supplier,
        s.address, i.code, i.name, coalesce(t.supplier_code, '') as "supplierCode", coalesce(n.number, '') as lot,
        trim_scale(m.quantity)::text as quantity, i.symbol
      from supplier_returns r
      join postings o on o.id = r.posting_id
      join moves m on m.posting_id = o.id
      join purchase_orders b on b.id = r.order_id
      join suppliers s on s.id = b.supplier_id
      join ${MEASURED_ITEM} i on i.id = m.item_id
      left join lots n on n.id = m.lot_id
      left join supplier_terms t on t.item_id = i.id and t.supplier_id = s.id
      where r.id = ${id}`,
  )
  if (!back) {
    throw new Refusal('not-found', 'There is no such return.')
  }
  const said = (label: string, text: string) => (text === '' ? [] : [{ text: [`${label} `, { text, bold: true }] }])
  const bytes = await makePdf({
    pageSize: 'A5',
    pageMargins: [40, 40, 40, 40],
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    info: { title: `Return ${back.number}` },
    content: [
      { text: company?.name ?? '', fontSize: 11, bold: true },
      { text: `Return ${back.number}`, fontSize: 20, bold: true, margin: [0, 14, 0, 2] },
      { text: printDay(back.on, '', writing.dateFormat), color: '#555555' },
      { text: `${back.supplier}\n${back.address}`, margin: [0, 14, 0, 14] },
      ...said('Your number for it', back.reference),
      ...said('From our order', back.order),
      ...said('Reason', back.reason),
      {
        table: {
          headerRows: 1,
          widths: ['*', 'auto', 'auto', 'auto'],
          body: [
            ['Item', 'Your code', 'Lot', { text: 'Quantity', alignment: 'right' as const }],
            [
              { text: [{ text: `${back.code}\n`, bold: true }, back.name] },
              back.supplierCode,
              back.lot,
              { text: `${grouped(back.quantity, writing)} ${back.symbol}`, alignment: 'right' as const },
            ],
          ],
        },
        layout: 'lightHorizontalLines',
        margin: [0, 12, 0, 12],
      },
      { text: WISH[back.expects] ?? '', margin: [0, 0, 0, 16] },
      {
        svg: bwip.toSVG({ bcid: 'code128', text: back.number, height: 9, includetext: true, textxalign: 'center' }),
        width: 150,
      },
    ],
  })
  return { name: `${back.number}.pdf`, bytes }
}
