import type { TableName } from '~~/shared/catalogue/words'
import { day, named, number, text, unit, word, yesNo } from './columns'
import { list, ofHead, own, renamed, type Table } from './table'

/** Tables of bills of materials and of break-downs. */
export const STRUCTURE_TABLES = {
  bills: {
    ...own(
      'bills',
      'bills of materials and kits: batch, yield, work',
      [
        named('item', 'items', { field: 'itemId', needed: true }),
        number('revision', { empty: undefined }),
        day('from_on', { also: ['in use from'] }),
        number('batch', { field: 'batchSize', empty: '1' }),
        unit('unit', { field: 'batchUnit', also: ['batch unit'] }),
        number('yield_percent', { empty: '100' }),
        number('work_minutes', { empty: '0' }),
        number('minutes_per_unit', { empty: '0' }),
        number('work_rate', { empty: '0' }),
        number('other_cost', { empty: '0' }),
        text('note'),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-lines': {
    ...list(
      'bill-lines',
      { kind: 'bills', key: 'item', field: 'lines', by: ['itemId', 'position'], loose: ['position'] },
      'components of bills and kits, a line each',
      [
        number('position', { empty: undefined }),
        named('component', 'items', { field: 'itemId', needed: true }),
        number('quantity', { needed: true }),
        unit('unit', { needed: true }),
        word('basis', { empty: undefined }),
        number('scrap_percent', { empty: '0' }),
        number('offset_days', { empty: 0 }),
        yesNo('phantom'),
        text('note'),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-substitutes': {
    ...list(
      'bill-substitutes',
      { kind: 'bills', key: 'item', field: 'substitutes', by: ['itemId'], within: { field: 'lines', by: 'component' } },
      'what may stand in for a component in a bill',
      [
        named('component', 'items', { needed: true }),
        named('substitute', 'items', { field: 'itemId', needed: true }),
        number('rank', { empty: 1 }),
        number('ratio', { field: 'per', empty: '1' }),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'by-products': {
    ...list(
      'by-products',
      { kind: 'bills', key: 'item', field: 'byProducts', by: ['itemId'] },
      'what else a batch gives',
      [
        named('by_product', 'items', { field: 'itemId', needed: true }),
        number('quantity', { needed: true }),
        unit('unit', { needed: true }),
        number('share_percent', { empty: '0' }),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-steps': {
    ...list(
      'bill-steps',
      { kind: 'bills', key: 'item', field: 'steps', by: ['position'] },
      'what is done at the bench, step by step',
      [number('position', { needed: true }), text('text', { needed: true, empty: undefined })],
      ['items'],
    ),
    numbered: 'revision',
  },
  'break-downs': {
    ...list(
      'break-downs',
      { kind: 'break-downs', key: 'item', field: 'outputs', by: ['itemId'] },
      'how bulk goods break down, a line for each output',
      [
        ofHead(number('take', { empty: '1' })),
        ofHead(unit('unit', { needed: true })),
        named('output', 'items', { field: 'itemId', needed: true }),
        number('gives', { field: 'quantity', needed: true }),
        renamed(unit('output_unit', { needed: true }), 'unit'),
        number('share', { empty: '1' }),
        ofHead(number('loss', { empty: '0' })),
        ofHead(unit('loss_unit', { empty: null })),
        ofHead(yesNo('loss_written_off')),
        ofHead(yesNo('on_arrival')),
        ofHead(text('note')),
      ],
      ['items'],
    ),
    numbered: 'rank',
  },
} satisfies Partial<Record<TableName, Table>>
