import { db } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { printLabels, printLotLabels } from '~~/server/services/catalogue/labels'
import { applyImport, openImport, previewImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { exportCatalogue } from '~~/server/services/catalogue/tables/write-file'
import { importInto } from '~~/server/services/company/import-company'
import { writeTableFile } from '~~/server/services/company/table-file'
import { promiseLines } from '~~/server/services/demand/promise'
import { comparePlans } from '~~/server/services/planning/compare'
import { explainOrder } from '~~/server/services/planning/explain-order'
import { madeOf } from '~~/server/services/planning/made-of'
import { purchaseDocument } from '~~/server/services/purchasing/document'
import { returnDocument } from '~~/server/services/purchasing/return-document'
import { filesOfPurchase } from '~~/server/services/purchasing/files'
import { quotationWorkbook, readQuotation } from '~~/server/services/purchasing/quotations/quotation-file'
import { filesOfRequest, requestDocument } from '~~/server/services/purchasing/quotations/request-document'
import { readAnswer } from '~~/server/services/purchasing/ubl/answer'
import { readInvoice } from '~~/server/services/purchasing/ubl/invoice'
import { countSheet } from '~~/server/services/stock/count-sheet'
import { recallFile } from '~~/server/services/stock/recall-file'
import { billDocument } from '~~/server/services/structure/bill-document'
import { buildableNow } from '~~/server/services/structure/questions'
import { structuresAsJson } from '~~/server/services/structure/structures-json'
import { buildSheet, pickList } from '~~/server/services/workshop/job-documents'
import type { PlainActor } from './plain-actor'

/** Work that can keep a processor busy for longer than others should wait. What it takes and answers is plain data. */
export const TASKS = {
  printLabels,
  printLotLabels,
  billDocument,
  buildSheet,
  pickList,
  countSheet,
  purchaseDocument,
  returnDocument,
  filesOfPurchase,
  filesOfRequest,
  requestDocument,
  quotationWorkbook,
  readQuotation,
  readAnswer,
  readInvoice,
  recallFile,
  structuresAsJson: (itemIds?: readonly number[]) => structuresAsJson(db, itemIds),
  exportCatalogue,
  writeTableFile,
  promiseLines,
  buildableNow,
  comparePlans,
  explainOrder,
  madeOf,
  openImport,
  previewImport,
  applyImport: (actor: PlainActor, ...rest: RestOf<typeof applyImport>) =>
    inTransaction((tx) => applyImport(tx, actor, ...rest)),
  takeBack: (actor: PlainActor, ...rest: RestOf<typeof takeBack>) =>
    inTransaction((tx) => takeBack(tx, actor, ...rest)),
  importInto: (actor: PlainActor, ...rest: RestOf<typeof importInto>) =>
    inTransaction((tx) => importInto(tx, actor, ...rest)),
}

/** What follows the transaction and the person. */
type RestOf<F extends (...args: never[]) => unknown> =
  Parameters<F> extends [unknown, unknown, ...infer Rest] ? Rest : never

export type TaskName = keyof typeof TASKS
export type TaskInput<Name extends TaskName> = Parameters<(typeof TASKS)[Name]>
export type TaskOutput<Name extends TaskName> = Awaited<ReturnType<(typeof TASKS)[Name]>>
