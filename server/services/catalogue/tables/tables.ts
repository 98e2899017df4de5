import type { TableName } from '~~/shared/catalogue/words'
import { number, text, type Column } from './columns'
import { COMPANY_TABLES } from './company-tables'
import { ITEM_TABLES } from './item-tables'
import { STRUCTURE_TABLES } from './structure-tables'
import type { Table } from './table'

export type { Table } from './table'

/** Every table of the catalogue by its name. */
export const TABLE: Readonly<Record<TableName, Table>> = { ...COMPANY_TABLES, ...ITEM_TABLES, ...STRUCTURE_TABLES }

/** All columns of a table, the one that names the definition first. */
export const columnsOf = (table: Table): readonly Column[] =>
  table.list
    ? [
        text(table.key, { needed: true, empty: undefined }),
        ...(table.numbered ? [number(table.numbered, { empty: undefined })] : []),
        ...table.columns,
      ]
    : table.columns
