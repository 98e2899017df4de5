<script setup lang="ts">
import type { AuditRow } from '~~/shared/company/answers'
import type { Paged } from '~~/shared/primitives'
import type { DataColumn } from '~/composables/ui/data-column'

const { clock } = usePrint()
useHead({ title: 'Audit list · Tsumiki' })
const load = (query: Record<string, unknown>): Promise<Paged<AuditRow>> => $fetch('/api/company/audit', { query })
const COLUMNS: readonly DataColumn[] = [
  { key: 'at', name: 'When', width: 120, text: (row: AuditRow) => clock(row.at) },
  { key: 'who', name: 'Who', width: 130 },
  { key: 'entity', name: 'Of what', width: 120 },
  { key: 'label', name: 'Which', width: 180, isFixed: true },
  { key: 'said', name: 'Before → after', isSortable: false, isFilterable: false, wrap: true },
  { key: 'address', name: 'From', width: 110 },
]
</script>

<template>
  <div>
    <UiHead
      title="Audit list"
      summary="Every change of a definition, a document, a setting or a right, and every sign-in: nothing of it is ever taken away."
    />
    <UiSheet flush>
      <UiDataTable
        list="audit"
        label="Audit list"
        search-label="Filter person, thing or address"
        :columns="COLUMNS"
        :load="load"
      >
        <template #empty><UiEmptyState title="Nothing fits" /></template>
      </UiDataTable>
    </UiSheet>
  </div>
</template>
