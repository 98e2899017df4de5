import { eq, sql } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'
import * as z from 'zod'
import { groupBy } from '~~/core/group-by'
import { db, rows, type Tx } from '~~/server/database/client'
import { calendars, company, customers, itemGroups, items, places, sites, suppliers } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { TABLES } from '~~/shared/catalogue/words'
import { ROLES } from '~~/shared/company/rights'
import { exactIfPlain } from '../catalogue/measured-items'
import { picturesOfItems, type PictureFile } from '../catalogue/pictures'
import { matchColumns, readSheet } from '../catalogue/tables/read-file'
import { TABLE } from '../catalogue/tables/tables'
import { takeIn, type Source } from '../catalogue/tables/take-in'
import { FileReader, matchOwn, type OwnFile } from '../catalogue/tables/file-reader'
import { OWN_FILES } from '../catalogue/tables/own-files'
import { borrowHistory, correctHistory } from '../demand/history'
import { createOrder } from '../demand/orders'
import { noteProgress } from '../purchasing/note-progress'
import { createPurchase } from '../purchasing/orders'
import { importBuild, importCutting } from './import-workshop'
import { dayIn } from './company'
import { importBlanket, linkBlankets } from './import-blankets'
import { importQuotations } from './import-quotations'
import { eachLine, eachOrder, readRows, type Files, type Imported } from './import-files'
import { importCount, importOpening, importTransfer } from './import-stock'
import { importInspection, importInspectionPlan, importReceipt } from './import-receipts'
import { addPerson, layFoundations } from './set-up'

/** The files of a company, in the order in which they build on each other. */
export const IMPORT_FILES = [
  ...TABLES,
  'opening-stock',
  'counts',
  'transfers',
  'sales-orders',
  'blanket-orders',
  'purchase-orders',
  'inspection-plans',
  'quotations',
  'receipts',
  'inspections',
  'builds',
  'cutting-jobs',
  'past-sales',
  'forecast',
  'history-borrowings',
  'history-corrections',
] as const

/**
 * Begins a company from its files: `company.json` and `people.csv` beside those of `importFiles`, and pictures named by
 * the codes of items.
 */
export async function importCompany(files: Files, pictures: readonly PictureFile[] = []): Promise<void> {
  await db.transaction(async (tx) => {
    const { calendar, finishedBin, webCustomer, ...head } = JSON.parse(files.get('company.json') ?? '{}') as {
      name: string
      currency: string
      fixedDay: string | null
      decimalSign: '.' | ','
      /** The name of the company's own calendar, where it has one. */
      calendar?: string
      /**
       * The codes of the bin where finished goods usually go, and of the customer that orders of the web shop are for.
       */
      finishedBin?: string
      webCustomer?: string
    }
    await tx.insert(company).values(head)
    await layFoundations(tx)
    const people = readRows(files, 'people')
    const ids: number[] = []
    for (const row of people) {
      ids.push(
        (
          await addPerson(tx, {
            name: row.name!,
            email: row.email!,
            password: row.password!,
            role: z.enum(ROLES).parse(row.role),
          })
        ).id,
      )
    }
    const actor = {
      userId: ids[0]!,
      name: 'Import',
      role: 'owner' as const,
      today: head.fixedDay ?? dayIn(null, new Date()),
    }
    await importInto(tx, actor, files)
    await tx.update(company).set({
      calendarId: await idNamed(tx, calendars, calendars.name, calendar),
      finishedBinId: await idNamed(tx, places, places.code, finishedBin),
      webCustomerId: await idNamed(tx, customers, customers.code, webCustomer),
    })
    if (pictures.length > 0) {
      await picturesOfItems(tx, actor, pictures)
    }
  })
}

/** The row that `company.json` names, where it names one. Errors: `invalid-input` where no file brings it. */
async function idNamed(
  tx: Tx,
  table: typeof calendars | typeof places | typeof customers,
  column: AnyPgColumn,
  name: string | undefined,
): Promise<number | null> {
  if (name === undefined) {
    return null
  }
  const [found] = await tx.select({ id: table.id }).from(table).where(eq(column, name))
  if (!found) {
    throw new Refusal('invalid-input', `company.json: there is no “${name}” in the files.`)
  }
  return found.id
}

/**
 * Takes in whatever files are given, all of them or nothing.
 *
 * Errors: `invalid-input` that names the file, the line and what is wrong with it.
 */
export async function importInto(tx: Tx, actor: Actor, files: Files): Promise<Imported[]> {
  const done: Imported[] = []
  const find = await lookups(tx)
  const desk: Desk = { tx, actor, files, done, find }
  await importTables(desk)
  await eachLine(desk, 'opening-stock', (row) => importOpening(tx, actor, row, find))
  await eachOrder(files, 'counts', done, async (name, lines) => importCount(tx, actor, name, lines, find))
  await eachOrder(files, 'transfers', done, async (_, lines) => importTransfer(tx, actor, lines, find))
  await importOrders(desk)
  await eachOrder(files, 'inspection-plans', done, async (code, lines) =>
    importInspectionPlan(tx, actor, code, lines, find),
  )
  await eachOrder(files, 'quotations', done, async (number, lines) => importQuotations(tx, actor, number, lines, find))
  await eachLine(desk, 'receipts', (row) => importReceipt(tx, actor, row, find))
  await eachOrder(files, 'inspections', done, async (lot, lines) => importInspection(tx, actor, lot, lines, find))
  await eachLine(desk, 'builds', (row) => importBuild(tx, actor, row, find))
  await eachOrder(files, 'cutting-jobs', done, async (number, lines) => importCutting(tx, actor, number, lines, find))
  for (const name of ['past-sales', 'forecast'] as const) {
    await importOwn(tx, actor, files, name, done)
  }
  await importHistory(desk)
  await continueNumbers(tx)
  return done
}

/** What an import works with: the files, what they can name, and what is done so far. */
interface Desk {
  readonly tx: Tx
  readonly actor: Actor
  readonly files: Files
  readonly done: Imported[]
  readonly find: Awaited<ReturnType<typeof lookups>>
}

/** The tables of the catalogue, kind by kind. */
async function importTables({ tx, actor, files, done }: Desk): Promise<void> {
  for (const [, tables] of groupBy(TABLES, (name) =>
    name === 'substitutes' || name === 'traits' ? name : TABLE[name].kind,
  )) {
    const sources: Source[] = []
    for (const name of tables) {
      const text = files.get(`${name}.csv`)
      if (text === undefined) {
        continue
      }
      const sheet = await readSheet(`${name}.csv`, Buffer.from(text))
      sources.push({ table: TABLE[name], sheet, mapping: matchColumns(TABLE[name], sheet.headings) })
    }
    if (sources.length === 0) {
      continue
    }
    const [fault] = (await takeIn(tx, actor, sources, { decimalSign: '.' })).faults
    if (fault) {
      throw new Refusal('invalid-input', `${fault.file}.csv line ${fault.line}, ${fault.column}: ${fault.detail}`)
    }
    done.push(...sources.map(({ table, sheet }) => ({ file: `${table.name}.csv`, rows: sheet.lines.length })))
  }
}

async function importOrders({ tx, actor, files, done, find }: Desk): Promise<void> {
  await eachOrder(files, 'sales-orders', done, async (number, lines) => {
    await createOrder(tx, actor, {
      number,
      customerId: await find.customer(lines[0]!.customer),
      orderedOn: lines[0]!.ordered_on || actor.today,
      dueOn: lines[0]!.due_on!,
      note: lines[0]!.note ?? '',
      agreed: true,
      lines: await Promise.all(
        lines.map(async (l) => ({
          id: null,
          itemId: await find.item(l.item),
          quantity: exactIfPlain(l.quantity!),
          unit: l.unit!,
          price: l.price || '0',
        })),
      ),
    })
  })
  await eachOrder(files, 'blanket-orders', done, async (number, lines) => importBlanket(tx, actor, number, lines, find))
  await eachOrder(files, 'purchase-orders', done, async (number, lines) => {
    const made = await createPurchase(tx, actor, {
      number,
      supplierId: await find.supplier(lines[0]!.supplier),
      orderedOn: lines[0]!.ordered_on || actor.today,
      note: lines[0]!.note ?? '',
      lines: await Promise.all(
        lines.map(async (l) => ({
          itemId: await find.item(l.item),
          quantity: exactIfPlain(l.quantity!),
          unit: l.unit!,
          price: l.price!,
          dueOn: l.due_on!,
        })),
      ),
    })
    await linkBlankets(tx, made.id, lines)
    await noteProgress(
      tx,
      made.id,
      lines.map((l) => ({
        sentOn: l.sent_on || null,
        confirmedOn: l.confirmed_on || null,
        askedFor: l.asked_for || null,
      })),
    )
  })
}

async function importHistory(desk: Desk): Promise<void> {
  const { tx, actor, find } = desk
  await eachLine(desk, 'history-borrowings', async (row) => {
    await borrowHistory(tx, actor, {
      itemId: await find.item(row.item),
      fromItemId: await find.item(row.from_item),
      percent: row.percent!,
      untilOn: row.until!,
    })
  })
  await eachLine(desk, 'history-corrections', async (row) => {
    await correctHistory(tx, actor, {
      itemId: await find.item(row.item),
      firstOn: row.first!,
      lastOn: row.last!,
      quantity: row.quantity!,
      reason: row.reason ?? '',
    })
  })
}

/** A file that goes its own way; its first fault is told. */
async function importOwn(tx: Tx, actor: Actor, files: Files, name: OwnFile, done: Imported[]): Promise<void> {
  const text = files.get(`${name}.csv`)
  if (text === undefined) {
    return
  }
  const sheet = await readSheet(`${name}.csv`, Buffer.from(text))
  const taken = await OWN_FILES[name].take(tx, actor, new FileReader(name, sheet, matchOwn(name, sheet.headings)), {
    batchId: null,
    label: `${name}.csv`,
    decimalSign: '.',
  })
  const [fault] = taken.faults
  if (fault) {
    throw new Refusal('invalid-input', `${name}.csv line ${fault.line}, ${fault.column}: ${fault.detail}`)
  }
  done.push({ file: `${name}.csv`, rows: sheet.lines.length })
}

/** Codes to ids, read when first asked for, so that a file can name what an earlier one brought. */
async function lookups(tx: Tx) {
  const finder = (what: string, read: () => Promise<{ id: number; code: string }[]>) => {
    let known = new Map<string, number>()
    return async (code: string | undefined): Promise<number> => {
      if (!known.has(code ?? '')) {
        known = new Map((await read()).map((row) => [row.code, row.id]))
      }
      const id = known.get(code ?? '')
      if (id === undefined) {
        throw new Refusal('invalid-input', code ? `There is no ${what} “${code}”.` : `The ${what} is missing.`)
      }
      return id
    }
  }
  return {
    supplier: finder('supplier', () => tx.select().from(suppliers)),
    group: finder('group', () => tx.select().from(itemGroups)),
    customer: finder('customer', () => tx.select().from(customers)),
    site: finder('site', () => tx.select().from(sites)),
    bin: finder('bin', () => tx.select().from(places).where(eq(places.kind, 'bin'))),
    item: finder('item', () => tx.select({ id: items.id, code: items.code }).from(items)),
  }
}

/** Documents made from now on are numbered after those that came in. */
async function continueNumbers(tx: Tx): Promise<void> {
  await rows(
    tx,
    sql`
      insert into counters (name, next)
      select prefix, max(number) + 1
      from (
        select split_part(number, '-', 1) as prefix, split_part(number, '-', 2)::int as number
        from (
          select number
          from sales_orders
          union all
          select number
          from purchase_orders
          union all
          select number
          from builds
          union all
          select number
          from cutting_jobs
        ) n
        where number ~ '^[A-Z]+-[0-9]+$'
      ) k
      group by prefix
      on conflict (name) do update
      set next = greatest(counters.next, excluded.next)`,
  )
}
