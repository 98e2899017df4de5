import { majorText } from '~~/core/money'
import type { Content, TableCell } from 'pdfmake/interfaces'
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { makePdf } from '~~/server/utils/pdf'
import { loadCompany, loadWriting } from '../company/company'
import { loadUnits } from '../catalogue/measured-items'
import { db } from '~~/server/database/client'
import { loadPurchase } from './orders'

/** The printed form of a purchase order, as a PDF on A4. */
export async function purchaseDocument(id: number): Promise<{ name: string; bytes: Buffer }> {
  const order = await loadPurchase(id)
  const [company, writing] = await Promise.all([loadCompany(), loadWriting()])
  const symbols = new Map((await loadUnits(db)).map((unit) => [unit.code, unit.symbol]))
  const currency = order.currency ?? company?.currency ?? ''
  const digits = (decimal: string): string => grouped(decimal, writing)
  const head: TableCell[] = ['', 'Item', 'Your code', 'Quantity', 'Price', 'Due', 'Amount'].map((text, i) => ({
    text,
    bold: true,
    alignment: [3, 4, 6].includes(i) ? 'right' : 'left',
  }))
  const body: TableCell[][] = order.lines.map((line) => [
    String(line.line),
    {
      text: [
        { text: `${line.code}\n`, bold: true },
        line.name,
        ...(line.purchaseText ? [{ text: `\n${line.purchaseText}`, color: '#555555', fontSize: 9 }] : []),
      ],
    },
    line.supplierCode,
    { text: `${line.entered} ${symbols.get(line.unit) ?? line.unit}`, alignment: 'right' },
    { text: `${digits(line.price)} / ${symbols.get(line.unit) ?? line.unit}`, alignment: 'right' },
    printDay(line.dueOn, order.orderedOn, writing.dateFormat),
    { text: digits(majorText(line.value)), alignment: 'right' },
  ])
  const content: Content = [
    { text: company?.name ?? '', fontSize: 11, bold: true },
    { text: `Purchase order ${order.number}`, fontSize: 20, bold: true, margin: [0, 18, 0, 2] },
    { text: `Ordered on ${printDay(order.orderedOn, '', writing.dateFormat)}`, color: '#555555' },
    { text: `${order.supplier}\n${order.address}`, margin: [0, 18, 0, 18] },
    ...(order.deliverTo
      ? [
          {
            text: [
              'Deliver to ',
              { text: order.deliverTo, bold: true },
              order.deliverAddress ? `, ${order.deliverAddress}` : '',
            ],
            margin: [0, 0, 0, 12] as [number, number, number, number],
          },
        ]
      : []),
    {
      table: { headerRows: 1, widths: [14, '*', 'auto', 'auto', 'auto', 'auto', 'auto'], body: [head, ...body] },
      layout: 'lightHorizontalLines',
    },
    {
      text: `Total ${currency} ${digits(majorText(order.total))}`,
      bold: true,
      alignment: 'right',
      margin: [0, 10, 0, 0],
    },
    ...(order.note ? [{ text: order.note, margin: [0, 18, 0, 0] as [number, number, number, number] }] : []),
  ]
  const bytes = await makePdf({
    content,
    pageSize: 'A4',
    pageMargins: [48, 48, 48, 60],
    defaultStyle: { font: 'Roboto', fontSize: 10 },
    info: { title: `Purchase order ${order.number}` },
    footer: (page, pages) => ({
      text: `${order.number} · ${page} of ${pages}`,
      alignment: 'center',
      color: '#777777',
      fontSize: 8,
    }),
  })
  return { name: `${order.number}.pdf`, bytes }
}
