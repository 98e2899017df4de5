import bwip from 'bwip-js/node'
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces'
import { readGtin } from '~~/core/codes'
import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { LabelSheet } from '~~/shared/catalogue/words'
import type { PrintLabels, PrintLotLabels } from '~~/shared/catalogue/labels'
import { makePdf } from '~~/server/utils/pdf'
import { loadItems } from './definitions/item-store'
import { loadUnits } from './measured-items'

/** Millimetres of a label and of the sheet that it is printed on; a roll has one label a page. */
export const LABEL_SHEETS: Readonly<
  Record<
    LabelSheet,
    { readonly width: number; readonly height: number; readonly across: number; readonly down: number }
  >
> = {
  'roll 62 × 29': { width: 62, height: 29, across: 1, down: 1 },
  'roll 100 × 50': { width: 100, height: 50, across: 1, down: 1 },
  'A4, 3 × 8': { width: 70, height: 37, across: 3, down: 8 },
  'A4, 2 × 7': { width: 105, height: 42.3, across: 2, down: 7 },
}
const A4 = { width: 210, height: 297 }
const points = (mm: number): number => (mm * 72) / 25.4

interface Label {
  readonly code: string
  readonly name: string
  readonly unit: string
  readonly text: string
}

/** The labels asked for as a PDF: the item's barcode of the unit, or its own code where it has none. */
export async function printLabels(asked: PrintLabels): Promise<Buffer> {
  return layOut(await labelsOf(asked), asked)
}

/** Labels of lots and pieces: what is scanned is the piece's label or the lot's number. */
export async function printLotLabels(asked: PrintLotLabels): Promise<Buffer> {
  const found = await rows<{
    lotId: number | null
    pieceId: number | null
    code: string
    name: string
    text: string
    summary: string
  }>(
    db,
    sql`
      select
        null::int as "lotId", c.id as "pieceId", i.code, i.name, c.label as text,
        concat_ws(
          ' · ', l.number, trim_scale(c.original)::text || ' ' || i.symbol,
          nullif(
            (
              select string_agg(key || ' ' || value, ', ')
              from jsonb_each_text(coalesce(l.traits, '{}') || c.traits)
            ),
            ''
          )
        ) as summary
      from pieces c
      join ${MEASURED_ITEM} i on i.id = c.item_id
      left join lots l on l.id = c.lot_id
      where ${anyOf(sql`c.id`, [0, ...asked.things.flatMap((t) => t.pieceId ?? [])])}
      union all
      select
        l.id, null, i.code, i.name, l.number,
        concat_ws(
          ' · ', 'expires ' || l.expires_on,
          nullif((select string_agg(key || ' ' || value, ', ') from jsonb_each_text(l.traits)), '')
        )
      from lots l
      join items i on i.id = l.item_id
      where ${anyOf(sql`l.id`, [0, ...asked.things.flatMap((t) => t.lotId ?? [])])}`,
  )
  const labels = asked.things.flatMap(({ lotId, pieceId, copies }) => {
    const thing = found.find((match) => (pieceId !== null ? match.pieceId === pieceId : match.lotId === lotId))
    if (!thing) {
      throw new Refusal('not-found', 'There is no such lot or piece.')
    }
    return Array.from({ length: copies }, (): Label => ({
      code: thing.code,
      name: thing.name,
      unit: thing.summary,
      text: thing.text,
    }))
  })
  return layOut(labels, asked)
}

function layOut(labels: readonly Label[], asked: Pick<PrintLabels, 'sheet' | 'skip' | 'symbology'>): Promise<Buffer> {
  const sheet = LABEL_SHEETS[asked.sheet]
  const roll = sheet.across === 1
  const page = roll
    ? { width: points(sheet.width), height: points(sheet.height) }
    : { width: points(A4.width), height: points(A4.height) }
  const margin: [number, number] = [
    roll ? 0 : points((A4.width - sheet.width * sheet.across) / 2),
    roll ? 0 : points((A4.height - sheet.height * sheet.down) / 2),
  ]
  const each = sheet.across * sheet.down
  const content: Content[] = labels.flatMap((label, index) => {
    const place = (index + (roll ? 0 : asked.skip)) % each
    const [left, top] = [
      margin[0] + points(sheet.width * (place % sheet.across)),
      margin[1] + points(sheet.height * Math.floor(place / sheet.across)),
    ]
    return [
      ...(place === 0 && index > 0 ? [{ text: '', pageBreak: 'before' as const }] : []),
      ...draw(label, asked.symbology, left, top, sheet),
    ]
  })
  return makePdf({
    pageSize: page,
    pageMargins: 0,
    content,
    defaultStyle: { font: 'Roboto', fontSize: 8 },
  } satisfies TDocumentDefinitions)
}

async function labelsOf({ items, symbology }: PrintLabels): Promise<Label[]> {
  const units = new Map((await loadUnits(db)).map((unit) => [unit.code, unit.name]))
  const known = new Map(
    (
      await loadItems(
        db,
        items.map((i) => i.id),
      )
    ).map((item) => [item.id, item]),
  )
  return items.flatMap(({ id, unit, copies }) => {
    const item = known.get(id)
    if (!item) {
      throw new Refusal('not-found', 'There is no such item.')
    }
    const barcode = item.codes.find((code) => code.kind === 'barcode' && (code.unit ?? item.stockUnit) === unit)?.code
    const text = barcode ?? item.code
    if (symbology === 'GS1 DataMatrix' && !(barcode && readGtin(barcode).ok)) {
      const detail = `${item.code} has no GTIN for one ${units.get(unit) ?? unit}. Add it to the item's codes, or print a QR code or Code 128.`
      throw new Refusal('invalid-input', detail, { symbology: detail })
    }
    return Array.from({ length: copies }, (): Label => ({
      code: item.code,
      name: item.name,
      unit: unit === item.stockUnit ? '' : (units.get(unit) ?? unit),
      text,
    }))
  })
}

/** What draws a symbol: its kind and its content, which follows GS1 where it carries a GTIN. */
export function symbolFor(symbology: PrintLabels['symbology'], text: string): { bcid: string; text: string } {
  const gtin = readGtin(text)
  if (symbology === 'GS1 DataMatrix') {
    return { bcid: 'gs1datamatrix', text: `(01)${gtin.ok ? gtin.value.gtin14 : text}` }
  }
  return symbology === 'QR' ? { bcid: 'qrcode', text, ...{ eclevel: 'M' } } : { bcid: 'code128', text }
}

function draw(
  label: Label,
  symbology: PrintLabels['symbology'],
  left: number,
  top: number,
  sheet: { readonly width: number; readonly height: number },
): Content[] {
  const inset = points(3)
  const [width, height] = [points(sheet.width) - 2 * inset, points(sheet.height) - 2 * inset]
  const pathOf = (x: number, y: number) => ({ absolutePosition: { x: left + inset + x, y: top + inset + y } })
  const svg = bwip.toSVG({
    ...symbolFor(symbology, label.text),
    ...(symbology === 'Code 128' && { height: 10, includetext: false }),
  })
  const summary: Content = { text: label.text, fontSize: 7, color: '#444' }
  if (symbology === 'Code 128') {
    return [
      {
        columns: [
          {
            width,
            stack: [
              { text: label.code, bold: true, fontSize: 11 },
              { text: shorten(label.name, 48), fontSize: 7.5 },
              ...(label.unit ? [{ text: label.unit, fontSize: 7.5, bold: true }] : []),
            ],
          },
        ],
        ...pathOf(0, 0),
      },
      { svg, fit: [width, height * 0.42], ...pathOf(0, height * 0.48) },
      { ...summary, ...pathOf(0, height * 0.92) },
    ]
  }
  const side = Math.min(height * 0.86, width * 0.36)
  return [
    { svg, fit: [side, side], ...pathOf(0, 0) },
    { ...summary, fontSize: 6.5, ...pathOf(0, side + 2) },
    {
      columns: [
        {
          width: width - side - 8,
          stack: [
            { text: label.code, bold: true, fontSize: 11 },
            { text: shorten(label.name, 60), fontSize: 8 },
            ...(label.unit ? [{ text: label.unit, fontSize: 8, bold: true }] : []),
          ],
        },
      ],
      ...pathOf(side + 8, 0),
    },
  ]
}

const shorten = (text: string, most: number): string => (text.length > most ? `${text.slice(0, most - 1)}…` : text)
