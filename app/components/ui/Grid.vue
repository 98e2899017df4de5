<script setup lang="ts" generic="R extends Record<string, unknown>">
import { X } from '@lucide/vue'
import type { GridColumn } from '~/composables/ui/use-grid-paste'

const props = defineProps<{
  label: string
  columns: readonly GridColumn[]
  path: string
  fields: Record<string, string>
  blank: () => R
  add: string
  disabled?: boolean
  empty?: string
  more?: string
}>()
const emit = defineEmits<{ more: [] }>()
const rows = defineModel<R[]>({ required: true })
/** What a cell can be typed into or chosen with; the buttons inside a field are none of them. */
const CELLS = 'input, button[aria-haspopup=listbox]'
const notices = useNotices()
const session = useSession()
const { asTyped } = usePrint()
const body = useTemplateRef('body')

/** The number cell that is being typed into, which shows what is typed until it is left. */
const typing = ref('')
/** A stored number as people write it. */
const shown = (row: R, column: GridColumn, position: number): string => {
  const text = cell(row, column.key)
  const isStored = column.kind === 'number' && typing.value !== `${position} ${column.key}` && isPlainDecimal(text)
  return isStored ? asTyped(text) : text
}
const cell = (row: R, key: string): string => String((row as Record<string, unknown>)[key] ?? '')
function set(row: R, key: string, value: unknown): void {
  ;(row as Record<string, unknown>)[key] = value
}
function choose(row: R, column: GridColumn, value: string | number | null): void {
  set(row, column.key, value)
  void sayChanged()
}
function type(row: R, column: GridColumn, position: number, event: Event): void {
  typing.value = `${position} ${column.key}`
  set(row, column.key, (event.target as HTMLInputElement).value)
}
function leave(row: R, column: GridColumn): void {
  if (column.kind === 'number') {
    set(row, column.key, readNumber(cell(row, column.key), session.company?.decimalSign))
  }
  typing.value = ''
}
async function addRow(): Promise<void> {
  rows.value.push(props.blank())
  await nextTick()
  body.value?.querySelector<HTMLElement>(`tr:last-of-type :is(${CELLS})`)?.focus()
}
const faultOf = (position: number, column: GridColumn): string =>
  props.fields[`${props.path}.${position}.${column.key}`] ?? ''
const faultsOf = (at: number): string[] =>
  Object.entries(props.fields)
    .filter(
      ([field]) =>
        field.startsWith(`${props.path}.${at}.`) &&
        !props.columns.some((column) => field === `${props.path}.${at}.${column.key}`),
    )
    .map(([, summary]) => summary)

/** Lines that came or went while a cell has the focus count as left: whoever listens for changes saves them. */
async function sayChanged(): Promise<void> {
  await nextTick()
  body.value?.dispatchEvent(new Event('change', { bubbles: true }))
}
/** Cells of a spreadsheet go in from here on. */
function paste(event: ClipboardEvent, row: number, column: number): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trimEnd())) {
    return
  }
  event.preventDefault()
  const unread = pasteInto(rows.value, props.columns, { row, column }, readClipboard(text), props.blank)
  void sayChanged()
  if (unread.length > 0) {
    notices.say({
      kind: 'problem',
      text: `Not read: ${unread.slice(0, 5).join(', ')}${unread.length > 5 ? ' …' : ''}.`,
    })
  }
}
/** Enter goes down, and from the last line to a new one; Ctrl Backspace takes a line away. */
async function onKey(event: KeyboardEvent, row: number, column: number): Promise<void> {
  const go = (to: number): void =>
    body.value?.querySelectorAll('tr[data-line]')[to]?.querySelectorAll<HTMLElement>(CELLS)[column]?.focus()
  if (event.key === 'Enter' && !event.defaultPrevented && (event.target as HTMLElement).role !== 'combobox') {
    event.preventDefault()
    if (row + 1 < rows.value.length) {
      go(row + 1)
    } else {
      await addRow()
    }
  } else if (event.key === 'Backspace' && event.ctrlKey) {
    event.preventDefault()
    rows.value.splice(row, 1)
    await sayChanged()
    go(Math.max(0, row - 1))
  }
}
</script>

<template>
  <div>
    <div v-if="rows.length" class="relative overflow-x-auto">
      <table class="w-full min-w-md border-collapse" :aria-label="label">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th
              v-for="column in columns"
              :key="column.key"
              class="px-1 pb-1 align-bottom font-medium first:pl-0"
              :class="column.kind === 'number' && 'text-right'"
              :style="column.width ? { width: column.width } : undefined"
              :title="column.hint"
            >
              {{ column.name }}
            </th>
            <th class="w-8"><span class="sr-only">Remove</span></th>
          </tr>
        </thead>
        <tbody ref="body">
          <template v-for="(row, position) in rows" :key="position">
            <tr data-line>
              <td
                v-for="(column, index) in columns"
                :key="column.key"
                class="px-1 pb-1 align-top first:pl-0"
                @paste="paste($event, position, index)"
                @keydown="onKey($event, position, index)"
              >
                <slot
                  v-if="column.kind === 'item'"
                  :name="column.key"
                  :row="row"
                  :at="position"
                  :error="fields[`${path}.${position}.${column.key}`]"
                />
                <label v-else-if="column.kind === 'check'" class="flex h-8 items-center justify-center"
                  ><input
                    type="checkbox"
                    :checked="cell(row, column.key) === 'true'"
                    :disabled="disabled"
                    :aria-label="`${column.name}, line ${position + 1}`"
                    class="size-4 accent-[var(--maple)]"
                    @change="set(row, column.key, ($event.target as HTMLInputElement).checked)"
                /></label>
                <UiChoice
                  v-else-if="column.kind === 'choice'"
                  :model-value="(row[column.key] as string | number | null) ?? null"
                  :label="`${column.name}, line ${position + 1}`"
                  hide-label
                  compact
                  :options="column.options ?? []"
                  :empty="column.empty"
                  :disabled="disabled"
                  :error="faultOf(position, column)"
                  @update:model-value="choose(row, column, $event)"
                />
                <UiDateField
                  v-else-if="column.kind === 'date'"
                  :model-value="cell(row, column.key)"
                  :label="`${column.name}, line ${position + 1}`"
                  hide-label
                  compact
                  :disabled="disabled"
                  :error="faultOf(position, column)"
                  @update:model-value="set(row, column.key, $event)"
                />
                <template v-else>
                  <input
                    :value="shown(row, column, position)"
                    type="text"
                    autocomplete="off"
                    :disabled="disabled"
                    :aria-label="`${column.name}, line ${position + 1}`"
                    :aria-invalid="Boolean(faultOf(position, column))"
                    class="field field-compact"
                    :class="[faultOf(position, column) && 'field-wrong', column.kind === 'number' && 'text-right']"
                    @input="type(row, column, position, $event)"
                    @change="leave(row, column)"
                  />
                  <p v-if="faultOf(position, column)" role="alert" class="text-fine text-brick">
                    {{ faultOf(position, column) }}
                  </p>
                </template>
              </td>
              <td class="pb-1 text-right align-top">
                <button
                  v-if="!disabled"
                  type="button"
                  class="mt-1 rounded-block p-1 text-soft hover:bg-wash hover:text-ink"
                  :aria-label="`Remove line ${position + 1} of ${label}`"
                  @click="rows.splice(position, 1)"
                >
                  <X class="size-4" />
                </button>
              </td>
            </tr>
            <tr v-if="$slots.under || faultsOf(position).length">
              <td :colspan="columns.length + 1" class="pb-2">
                <p v-for="summary in faultsOf(position)" :key="summary" role="alert" class="text-fine text-brick">
                  {{ summary }}
                </p>
                <slot name="under" :row="row" :at="position" />
              </td>
            </tr>
          </template>
        </tbody>
      </table>
    </div>
    <p v-else-if="empty" class="mb-1 text-soft">{{ empty }}</p>
    <p v-if="fields[path]" role="alert" class="mb-1 text-fine text-brick">{{ fields[path] }}</p>
    <div v-if="!disabled" class="flex gap-2">
      <UiButton small @click="addRow">{{ add }}</UiButton><UiButton v-if="more" small @click="emit('more')">{{
        more
      }}</UiButton>
    </div>
  </div>
</template>
