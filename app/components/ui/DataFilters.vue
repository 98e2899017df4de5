<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { X } from '@lucide/vue'
import type { FilterSign, ListFilter } from '~~/shared/list-filter'
import { isRightAligned, type DataColumn } from '~/composables/ui/data-column'

/** The conditions of a list: each a chip that a click takes away, and a form that adds one. */
const props = defineProps<{ columns: readonly DataColumn[] }>()
const filters = defineModel<ListFilter[]>({ required: true })
const { day, amount } = usePrint()
const anchor = useTemplateRef('anchor')

const SIGN_NAMES: Readonly<Record<FilterSign, string>> = {
  '~': 'contains',
  '=': 'is',
  '!=': 'is not',
  '>=': 'at least',
  '<=': 'at most',
}
const DAY_NAMES: Readonly<Partial<Record<FilterSign, string>>> = { '>=': 'from', '<=': 'until' }
const filterable = computed(() => props.columns.filter((column) => !column.isAct && column.isFilterable !== false))
const form = reactive({ column: '', sign: '~' as FilterSign, value: '' })
const column = computed(() => filterable.value.find((entry) => entry.key === form.column) ?? null)
const isDay = (entry: DataColumn | null | undefined): boolean => entry?.kind === 'day'
const signsOf = (entry: DataColumn | null): readonly FilterSign[] => {
  if (entry?.choices) {
    return ['=', '!=']
  }
  return entry && (isDay(entry) || isRightAligned(entry)) ? ['>=', '<=', '=', '!='] : ['~', '=', '!=']
}
const signName = (sign: FilterSign, entry: DataColumn | null | undefined): string =>
  (isDay(entry) && DAY_NAMES[sign]) || SIGN_NAMES[sign]
function describe(filter: ListFilter): string {
  const entry = props.columns.find((candidate) => candidate.key === filter.column)
  const name = entry?.name ?? filter.column
  if (filter.value === '') {
    return `${name} ${filter.sign === '=' ? 'is empty' : 'is not empty'}`
  }
  return `${name} ${signName(filter.sign, entry)} ${written(filter.value, entry)}`
}
function written(value: string, entry: DataColumn | undefined): string {
  if (isDay(entry) && /^\d{4}-\d\d-\d\d$/.test(value)) {
    return day(value)
  }
  if (entry && isRightAligned(entry) && isPlainDecimal(value)) {
    return amount(value, 6)
  }
  return entry?.choices?.find((choice) => String(choice.value) === value)?.name ?? value
}
watch(column, (entry) => {
  form.sign = signsOf(entry)[0]!
  form.value = ''
})
const session = useSession()
function add(close: () => void): void {
  const entry = column.value
  if (!entry) {
    return
  }
  const value = isRightAligned(entry) ? readNumber(form.value, session.company?.decimalSign) : form.value.trim()
  filters.value = [...filters.value, { column: form.column, sign: form.sign, value }]
  form.column = ''
  close()
}
const remove = (index: number): void => {
  filters.value = filters.value.filter((_, position) => position !== index)
}
</script>

<template>
  <div class="flex flex-wrap items-center gap-2">
    <Popover v-slot="{ open }">
      <div ref="anchor">
        <PopoverButton class="h-9 rounded-block border border-line bg-sheet px-3 hover:bg-wash">Filter</PopoverButton>
        <UiFloating v-if="open" :anchor="anchor" class="overflow-visible">
          <PopoverPanel v-slot="{ close }" static>
            <form class="grid w-72 gap-3 p-3" @submit.prevent="add(close)">
              <UiChoice
                v-model="form.column"
                label="Column"
                :options="filterable.map((entry) => ({ value: entry.key, name: entry.name }))"
              />
              <template v-if="column">
                <UiChoice
                  v-model="form.sign as string"
                  label="Condition"
                  :options="signsOf(column).map((sign) => ({ value: sign, name: signName(sign, column) }))"
                />
                <UiChoice v-if="column.choices" v-model="form.value" label="Value" :options="column.choices" />
                <UiDateField v-else-if="isDay(column)" v-model="form.value" label="Value" />
                <UiTextField v-else v-model="form.value" label="Value" hint="empty: what has none" />
              </template>
              <UiButton type="submit" primary :disabled="!column">Add the filter</UiButton>
            </form>
          </PopoverPanel>
        </UiFloating>
      </div>
    </Popover>
    <button
      v-for="(filter, index) in filters"
      :key="index"
      type="button"
      class="inline-flex h-7 items-center gap-1 rounded-block border border-maple px-2 text-fine hover:bg-wash"
      :aria-label="`Remove the filter: ${describe(filter)}`"
      @click="remove(index)"
    >
      {{ describe(filter) }}<X class="size-3" aria-hidden="true" />
    </button>
  </div>
</template>
