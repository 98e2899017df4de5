import bwip from 'bwip-js/node'
import { sql } from 'drizzle-orm'
import type { Content, TableCell } from 'pdfmake/interfaces'
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { makePdf } from '~~/server/utils/pdf'
import type { BuildAnswer } from '~~/shared/workshop/answers'
import { loadPicture } from '../catalogue/pictures'
import { loadCompany, loadWriting } from '../company/company'
import { loadBuild } from './read-build'

const barcode = (text: string): Content => ({
  svg: bwip.toSVG({ bcid: 'code128', text, height: 9, includetext: true, textxalign: 'center' }),
  width: 150,
  alignment: 'right',
})
/** What the papers of a job need of the company: its name, and how it writes numbers and dates. */
interface Letterhead {
  readonly name: string
  readonly digits: (decimal: string) => string
  readonly day: (iso: string) => string
}

async function loadLetterhead(): Promise<Letterhead> {
  const [company, writing] = await Promise.all([loadCompany(), loadWriting()])
  return {
    name: company?.name ?? '',
    digits: (decimal) => grouped(decimal, writing),
    day: (iso) => printDay(iso, '', writing.dateFormat),
  }
}

const head = (build: BuildAnswer, company: Letterhead, title: string): Content[] => [
  {
    columns: [
      {
        stack: [
          { text: company.name, bold: true },
          { text: `${title} ${build.number}`, fontSize: 20, bold: true, margin: [0, 10, 0, 2] },
          { text: `${company.digits(build.quantity)} ${build.symbol} ${build.code} ${build.name}`, fontSize: 12 },
          {
            text: `By revision ${build.revision}, due ${company.day(build.dueOn)}, ${build.site}${build.note ? `. ${build.note}` : ''}`,
            color: '#555555',
            margin: [0, 2, 0, 0],
          },
        ],
      },
      barcode(build.number),
    ],
  },
]
const SQUARE: TableCell = {
  svg: '<svg xmlns="http://www.w3.org/2000/svg" width="11" height="11"><rect x="0.5" y="0.5" width="10" height="10" fill="none" stroke="#555"/></svg>',
  width: 11,
}

async function print(content: Content, title: string): Promise<Buffer> {
  return makePdf({
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
  })
}

export interface PickRow {
  readonly pickOrder: number
  readonly bin: string
  readonly code: string
  readonly name: string
  readonly lot: string | null
  readonly piece: string | null
  readonly expiresOn: string | null
  readonly quantity: string
  readonly symbol: string
}

/** What to fetch for a build, bin after bin in their pick order, soonest expiry first; with what is missing. */
export async function pickRows(
  build: BuildAnswer,
): Promise<{ picks: PickRow[]; missing: { code: string; name: string; quantity: string; symbol: string }[] }> {
  const orders = new Map(
    (
      await rows<{ name: string; pickOrder: number }>(
        db,
        sql`
          select name, min(pick_order) as "pickOrder"
          from places
          where kind = 'bin' and site_id = ${build.siteId}
          group by name`,
      )
    ).map((row) => [row.name, row.pickOrder]),
  )
  const picks = build.components.flatMap((line) =>
    line.takes.map((take): PickRow => ({
      pickOrder: orders.get(take.bin) ?? 0,
      bin: take.bin,
      code: line.code,
      name: line.name,
      lot: take.lot,
      piece: take.piece,
      expiresOn: take.expiresOn,
      quantity: take.quantity,
      symbol: line.symbol,
    })),
  )
  return {
    picks: picks.sort(
      (a, b) =>
        a.pickOrder - b.pickOrder ||
        a.bin.localeCompare(b.bin) ||
        a.code.localeCompare(b.code) ||
        (a.expiresOn ?? '9').localeCompare(b.expiresOn ?? '9'),
    ),
    missing: build.components
      .filter((line) => line.missing !== '0')
      .map((line) => ({ code: line.code, name: line.name, quantity: line.missing, symbol: line.symbol })),
  }
}

/** The pick list of a build, as a PDF on A4. */
export async function pickList(id: number, today: string): Promise<{ name: string; bytes: Buffer }> {
  const [build, company] = await Promise.all([loadBuild(id, today), loadLetterhead()])
  const { picks, missing } = await pickRows(build)
  const titles: TableCell[] = ['', 'From', 'Item', 'Lot, piece', 'Quantity'].map((text, index) => ({
    text,
    bold: true,
    alignment: index === 4 ? 'right' : 'left',
  }))
  const body = picks.map((row): TableCell[] => [
    SQUARE,
    row.bin,
    { text: [{ text: `${row.code}  `, bold: true }, row.name] },
    [row.piece, row.lot, row.expiresOn && `until ${company.day(row.expiresOn)}`].filter(Boolean).join(', '),
    { text: `${company.digits(row.quantity)} ${row.symbol}`, alignment: 'right', bold: true },
  ])
  const content: Content = [
    ...head(build, company, 'Pick list'),
    { text: 'Picked by ____________________   on ____________', margin: [0, 14, 0, 10] },
    picks.length > 0
      ? {
          table: { headerRows: 1, widths: [14, 90, '*', 120, 80], body: [titles, ...body] },
          layout: 'lightHorizontalLines',
        }
      : { text: 'Nothing is to be picked.' },
    ...(missing.length > 0
      ? [
          { text: 'Missing', bold: true, margin: [0, 14, 0, 4] as [number, number, number, number] },
          {
            ul: missing.map(
              (shortfall) =>
                `${company.digits(shortfall.quantity)} ${shortfall.symbol} ${shortfall.code} ${shortfall.name}`,
            ),
          },
        ]
      : []),
  ]
  return { name: `${build.number} pick list.pdf`, bytes: await print(content, `Pick list ${build.number}`) }
}

/**
 * The sheet that goes with a build: what it takes, its steps with their pictures, and room to write what was used and
 * what came out.
 */
export async function buildSheet(id: number, today: string): Promise<{ name: string; bytes: Buffer }> {
  const [build, company] = await Promise.all([loadBuild(id, today), loadLetterhead()])
  const titles: TableCell[] = ['Component', 'Required', 'Used', 'Lot'].map((text, index) => ({
    text,
    bold: true,
    alignment: index === 1 || index === 2 ? 'right' : 'left',
  }))
  const body = build.components.map((line): TableCell[] => [
    {
      text: [
        { text: `${line.code}  `, bold: true },
        line.name,
        ...(line.forCode ? [{ text: `  instead of ${line.forCode}`, color: '#555555' }] : []),
      ],
    },
    {
      text: `${company.digits(line.need)} ${line.symbol}${line.unitSymbol === line.symbol ? '' : `\n${line.inUnit} ${line.unitSymbol}`}`,
      alignment: 'right',
    },
    { text: '__________', alignment: 'right' },
    '____________',
  ])
  const steps = await Promise.all(
    build.steps.map(
      async (step, index): Promise<Content> =>
        ({
          columns: [
            { text: String(index + 1), width: 20, bold: true, fontSize: 12 },
            { text: step.text, width: '*', fontSize: 11 },
            ...(step.pictureId === null
              ? []
              : [{ image: await asImage(step.pictureId), fit: [170, 130] as [number, number], width: 175 }]),
          ],
          columnGap: 8,
          margin: [0, 6, 0, 6],
          unbreakable: true,
        }) as Content,
    ),
  )
  const content: Content = [
    ...head(build, company, build.source === 'kit' ? 'Packing sheet' : 'Build sheet'),
    {
      text: 'Made by ____________________   on ____________   good ________   spoiled ________   minutes ________',
      margin: [0, 14, 0, 10],
    },
    { table: { headerRows: 1, widths: ['*', 90, 80, 80], body: [titles, ...body] }, layout: 'lightHorizontalLines' },
    ...(steps.length > 0
      ? [
          { text: 'Steps', bold: true, fontSize: 13, margin: [0, 16, 0, 4] as [number, number, number, number] },
          ...steps,
        ]
      : []),
    {
      columns: [
        {
          text: `Label of what comes out: ${build.code}${build.tracking === 'none' ? '' : `, lot ${build.number}`}`,
          margin: [0, 16, 0, 0],
        },
        { ...(barcode(build.code) as object), margin: [0, 12, 0, 0] } as Content,
      ],
    },
  ]
  return { name: `${build.number}.pdf`, bytes: await print(content, `Build sheet ${build.number}`) }
}

async function asImage(pictureId: number): Promise<string> {
  const bytes = await loadPicture(pictureId, 'full')
  return `data:image/${bytes[0] === 0x89 ? 'png' : 'jpeg'};base64,${bytes.toString('base64')}`
}
