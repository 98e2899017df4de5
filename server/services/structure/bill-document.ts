import type { Content, TableCell } from 'pdfmake/interfaces'
import { eq } from 'drizzle-orm'
import { printDay, type DateFormat } from '~~/core/calendar/days'
import { printAmount } from '~~/core/units/quantity'
import { ratio } from '~~/core/units/exact'
import { db } from '~~/server/database/client'
import { pictures } from '~~/server/database/schema'
import { makePdf } from '~~/server/utils/pdf'
import { Refusal } from '~~/server/utils/refusal'
import { loadMeasuredItems, loadUnits, type MeasuredItem } from '../catalogue/measured-items'
import { loadCompany, loadWriting } from '../company/company'
import { loadBills } from './bill-store'

type Bill = Awaited<ReturnType<typeof loadBills>>[number]

const right = (text: string): TableCell => ({ text, alignment: 'right' })

/** One line of the bill as a row of the table: place, component, quantity, scrap, note. */
function rowOf(line: Bill['lines'][number], part: MeasuredItem, unit: string): TableCell[] {
  const notes = [
    line.basis === 'per build' ? 'once a build' : '',
    line.phantom ? 'phantom' : '',
    line.offsetDays ? `${line.offsetDays} days after the start` : '',
    line.note,
  ]
  return [
    String(line.position),
    { text: [{ text: part.code, bold: true }, `  ${part.name}`] },
    right(`${printAmount(ratio(line.quantity), 6, part.writing)} ${unit}`),
    right(line.scrapPercent === '0' ? '' : `${line.scrapPercent} %`),
    { text: notes.filter(Boolean).join(' · '), color: '#555555' },
  ]
}

/** The batch and its work in one line; what is usual is left out. */
function factsOf(bill: Bill, batchUnit: string, today: string, dateFormat: DateFormat): string {
  const facts = [
    `Batch ${bill.batchSize} ${batchUnit}`,
    bill.yieldPercent === '100' ? '' : `output yield ${bill.yieldPercent} %`,
    bill.workMinutes === '0' ? '' : `${bill.workMinutes} min a batch`,
    bill.minutesPerUnit === '0' ? '' : `${bill.minutesPerUnit} min each`,
    bill.fromOn === null ? 'draft' : `in use from ${printDay(bill.fromOn, today, dateFormat)}`,
  ]
  return facts.filter(Boolean).join(' · ')
}

/** A revision on paper, for the bench: what a batch takes, then the steps with their pictures. */
export async function billDocument(id: number, today: string): Promise<{ name: string; bytes: Buffer }> {
  const [bill] = await loadBills(db, [id])
  if (!bill) {
    throw new Refusal('not-found', 'There is no such revision.')
  }
  const items = await loadMeasuredItems(db, [
    ...new Set([
      bill.itemId,
      ...bill.lines.map((line) => line.itemId),
      ...bill.byProducts.map((byProduct) => byProduct.itemId),
    ]),
  ])
  const symbols = new Map((await loadUnits(db)).map((unit) => [unit.code, unit.symbol]))
  const symbol = (unit: string): string => symbols.get(unit) ?? unit
  const item = items.get(bill.itemId)!
  const isKit = item.source === 'kit'
  const head: TableCell[] = ['', isKit ? 'Holds' : 'Component', 'Quantity', 'Scrap', 'Note'].map((text, index) => ({
    text,
    bold: true,
    alignment: index === 2 || index === 3 ? 'right' : 'left',
  }))
  const body = bill.lines.map((line) => rowOf(line, items.get(line.itemId)!, symbol(line.unit)))
  const { dateFormat } = await loadWriting()
  const facts = factsOf(bill, symbol(bill.batchUnit), today, dateFormat)
  const steps: Content[] = []
  for (const [index, step] of bill.steps.entries()) {
    const [picture] =
      step.pictureId === null ? [] : await db.select().from(pictures).where(eq(pictures.id, step.pictureId))
    steps.push({
      columns: [
        { width: 24, text: `${index + 1}.`, bold: true },
        { width: '*', text: step.text },
        ...(picture
          ? [
              {
                width: 150,
                image: `data:image/${picture.small.subarray(0, 2).toString('hex') === '8950' ? 'png' : 'jpeg'};base64,${picture.small.toString('base64')}`,
                fit: [140, 110] as [number, number],
              },
            ]
          : []),
      ],
      margin: [0, 6, 0, 0],
      unbreakable: true,
    } as Content)
  }
  const content: Content = [
    { text: (await loadCompany())?.name ?? '', fontSize: 11, bold: true },
    { text: `${item.code}  ${item.name}`, fontSize: 20, bold: true, margin: [0, 18, 0, 2] },
    {
      text: `${isKit ? 'Contents of the kit' : 'Bill of materials'}, revision ${bill.revision} · ${facts}`,
      color: '#555555',
      margin: [0, 0, 0, 14],
    },
    {
      table: { headerRows: 1, widths: [14, '*', 'auto', 'auto', 130], body: [head, ...body] },
      layout: 'lightHorizontalLines',
    },
    ...(bill.byProducts.length > 0
      ? [
          {
            text: `By-products: ${bill.byProducts.map((byProduct) => `${printAmount(ratio(byProduct.quantity), 6, items.get(byProduct.itemId)!.writing)} ${symbol(byProduct.unit)} ${items.get(byProduct.itemId)!.code}`).join(', ')}`,
            margin: [0, 10, 0, 0] as [number, number, number, number],
          },
        ]
      : []),
    ...(bill.note ? [{ text: bill.note, margin: [0, 10, 0, 0] as [number, number, number, number] }] : []),
    ...(steps.length > 0
      ? [
          { text: 'Steps', fontSize: 13, bold: true, margin: [0, 18, 0, 2] as [number, number, number, number] },
          ...steps,
        ]
      : []),
  ]
  const title = `${item.code} revision ${bill.revision}`
  return {
    name: title,
    bytes: await makePdf({
      content,
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
    }),
  }
}
