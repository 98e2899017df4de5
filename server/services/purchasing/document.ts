import { majorText } from '~~/core/money'
import type { Content, TableCell } from 'pdfmake/interfaces'
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { makePdf } from '~~/server/utils/pdf'
import { loadCompany, loadWriting, type Writing } from '../company/company'
import { loadUnits } from '../catalogue/measured-items'
import { db } from '~~/server/database/client'
import { loadPurchase } from './load-purchase'
import { totalOfCharges } from './purchase-total'

/** The printed form of purchase orders, one behind the other, as a PDF on A4. */
export async function purchaseDocument(ids: readonly number[]): Promise<{ name: string; bytes: Buffer }> {
  const [company, writing, units] = await Promise.all([loadCompany(), loadWriting(), loadUnits(db)])
  const symbols = new Map(units.map((unit) => [unit.code, unit.symbol]))
  const orders = []
  for (const id of ids) {
    orders.push(await loadPurchase(id))
  }
  const title = orders.length === 1 ? `Purchase order ${orders[0]!.number}` : `${orders.length} purchase orders`
  const bytes = await makePdf({
    content: orders.map((order, index) => ({
      stack: pagesOf(order, { name: company?.name ?? '', currency: company?.currency ?? '' }, writing, symbols),
      ...(index > 0 && { pageBreak: 'before' as const }),
    })),
    pageSize: 'A4',
    pageMargins: [48, 48, 48, 60],
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    info: { title },
    footer: (page, pages) => ({
      text: `${title} · ${page} of ${pages}`,
      alignment: 'center',
      color: '#777777',
      fontSize: 8,
    }),
  })
  return { name: `${orders.length === 1 ? orders[0]!.number : 'purchase-orders'}.pdf`, bytes }
}

type Purchase = Awaited<ReturnType<typeof loadPurchase>>

function pagesOf(
  order: Purchase,
  buyer: { readonly name: string; readonly currency: string },
  writing: Writing,
  symbols: ReadonlyMap<string, string>,
): Content[] {
  const digits = (decimal: string): string => grouped(decimal, writing)
  const day = (iso: string): string => printDay(iso, '', writing.dateFormat)
  const symbolOf = (unit: string): string => symbols.get(unit) ?? unit
  const head: TableCell[] = ['', 'Item', 'Your code', 'Quantity', 'Price', 'Due', 'Amount'].map((text, i) => ({
    text,
    bold: true,
    alignment: [3, 4, 6].includes(i) ? 'right' : 'left',
  }))
  const wanted = order.lines.filter((line) => !line.closedShort && line.replacesLineId === null)
  const body: TableCell[][] = wanted.map((line) => [
    String(line.line),
    {
      text: [
        { text: `${line.code}\n`, bold: true },
        line.name,
        ...(line.purchaseText ? [{ text: `\n${line.purchaseText}`, color: '#555555', fontSize: 9 }] : []),
      ],
    },
    line.supplierCode,
    { text: `${digits(line.entered)} ${symbolOf(line.unit)}`, alignment: 'right' },
    {
      text: [
        `${digits(line.price)} / ${symbolOf(line.unit)}`,
        ...(line.discountPercent === null
          ? []
          : [{ text: `\n${digits(line.listPrice!)} less ${digits(line.discountPercent)} %`, fontSize: 9 }]),
      ],
      alignment: 'right',
    },
    day(line.dueOn),
    { text: digits(majorText(line.value)), alignment: 'right' },
  ])
  const total = wanted.reduce((sum, line) => sum + BigInt(line.value), totalOfCharges(order.charges))
  const charges: TableCell[][] = order.charges.map(({ name, amount }) => [
    '',
    { text: name, colSpan: 5 },
    ...Array.from({ length: 4 }, () => ''),
    { text: digits(amount), alignment: 'right' },
  ])
  return [
    { text: buyer.name, fontSize: 11, bold: true },
    { text: `${titleOf(order)} ${order.number}`, fontSize: 20, bold: true, margin: [0, 18, 0, 2] },
    {
      text: [
        `Ordered on ${day(order.orderedOn)}`,
        order.supplierReference ? ` · your number ${order.supplierReference}` : '',
      ],
      color: '#555555',
    },
    { text: `${order.supplier}\n${order.address}`, margin: [0, 18, 0, 18] },
    ...labelled('Deliver to', [order.deliverTo, order.deliverAddress]),
    ...labelled('Delivery', [order.deliveryTerms]),
    ...labelled('Payment', [order.paymentTerms]),
    {
      table: {
        headerRows: 1,
        widths: [14, '*', 'auto', 'auto', 'auto', 'auto', 'auto'],
        body: [head, ...body, ...charges],
      },
      layout: 'lightHorizontalLines',
      margin: [0, 10, 0, 0],
    },
    {
      text: `Total ${order.currency ?? buyer.currency} ${digits(majorText(total))}`,
      bold: true,
      alignment: 'right',
      margin: [0, 10, 0, 0],
    },
    ...(order.note ? [{ text: order.note, margin: [0, 18, 0, 0] as [number, number, number, number] }] : []),
  ]
}

/** A cancelled order says so, and one that was changed since it was sent. */
function titleOf({ state, unsent }: Purchase): string {
  if (state === 'cancelled') {
    return 'Cancellation of purchase order'
  }
  return unsent.length > 0 ? 'Change to purchase order' : 'Purchase order'
}

/** A line such as “Deliver to Workshop, Mill Lane 4”; nothing where there is nothing to say. */
function labelled(label: string, texts: readonly (string | null)[]): Content[] {
  const said = texts.filter((text): text is string => text !== null && text !== '')
  return said.length === 0 ? [] : [{ text: [`${label} `, { text: said.join(', '), bold: true }], margin: [0, 0, 0, 4] }]
}
