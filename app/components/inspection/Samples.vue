<script setup lang="ts">
import { asRecorded, judgeSamples, judgeValue, type Characteristic } from '~~/core/inspection'
import { describeLimits } from '~~/shared/inspection/words'

/** What is found in each piece of a sample: Enter goes down, cells of a spreadsheet go in from where they are pasted. */
const props = defineProps<{
  characteristics: readonly Characteristic[]
  accept: number
  fields: Readonly<Record<string, string>>
  disabled: boolean
}>()
const samples = defineModel<string[][]>({ required: true })
const session = useSession()
const { asTyped } = usePrint()
const body = useTemplateRef('body')
/** What is typed, as it would be recorded; figures are read by the company's decimal sign. */
function recorded(column: number, text: string): string {
  const characteristic = props.characteristics[column]!
  const isMeasured = characteristic.kind === 'measured'
  return asRecorded(characteristic, isMeasured ? readNumber(text, session.company?.decimalSign) : text)
}
const values = computed(() => samples.value.map((row) => row.map((text, column) => recorded(column, text))))
const judged = computed(() => judgeSamples(props.characteristics, values.value, props.accept))
const verdictOf = (row: number, column: number) =>
  judgeValue(props.characteristics[column]!, values.value[row]![column]!)
const shown = (text: string): string => (isPlainDecimal(text.replace(/^-/, '')) ? asTyped(text) : text)

/** The cell that is being typed into shows what is typed until it is left. */
const typing = ref('')
function type(row: number, column: number, event: Event): void {
  samples.value[row]![column] = (event.target as HTMLInputElement).value
}
function leave(row: number, column: number): void {
  typing.value = ''
  samples.value[row]![column] = values.value[row]![column]!
}
function go(row: number, column: number): void {
  const field = body.value?.querySelector<HTMLInputElement>(`[data-cell="${row} ${column}"]`)
  field?.focus()
  field?.select()
}
/** Enter and the arrows go up and down; from the last of a column to the first of the next. */
function step(event: KeyboardEvent, row: number, column: number, by: number): void {
  event.preventDefault()
  const next = row + by
  if (next >= samples.value.length && column + 1 < props.characteristics.length) {
    go(0, column + 1)
  } else {
    go(Math.min(Math.max(next, 0), samples.value.length - 1), column)
  }
}
function paste(event: ClipboardEvent, row: number, column: number): void {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trimEnd())) {
    return
  }
  event.preventDefault()
  for (const [down, cells] of readClipboard(text).entries()) {
    for (const [right, cell] of cells.entries()) {
      if (samples.value[row + down]?.[column + right] !== undefined) {
        samples.value[row + down]![column + right] = recorded(column + right, cell)
      }
    }
  }
}
/** What is looked at and found right in most pieces is said once for all that nothing is said of. */
function fill(column: number): void {
  for (const row of samples.value) {
    row[column] = row[column] === '' ? 'yes' : row[column]!
  }
}
const hasOpen = (column: number): boolean => samples.value.some((row) => row[column] === '')
</script>

<template>
  <UiLinesTable is-grid aria-label="Sample">
    <thead>
      <tr class="text-left text-fine text-soft">
        <th class="w-14 py-1 pr-3 text-right font-medium">No.</th>
        <th
          v-for="(characteristic, column) in characteristics"
          :key="characteristic.name"
          class="px-2 py-1 align-bottom font-medium"
        >
          <span class="text-ink">{{ characteristic.name }}</span>
          <span v-if="describeLimits(characteristic)" class="block font-normal">{{
            describeLimits(characteristic)
          }}</span>
          <span v-if="characteristic.kind === 'yes or no' && !disabled && hasOpen(column)" class="mt-1 block"
            ><UiButton small @click="fill(column)">The rest: yes</UiButton></span
          >
        </th>
        <th class="w-20 py-1 pl-2 font-medium">Says</th>
      </tr>
    </thead>
    <tbody ref="body" data-saves>
      <tr v-for="(row, at) in samples" :key="at" class="border-t border-line/60">
        <td class="py-1 pr-3 text-right text-soft">{{ at + 1 }}</td>
        <td v-for="(characteristic, column) in characteristics" :key="characteristic.name" class="px-2 py-1 align-top">
          <input
            :value="typing === `${at} ${column}` ? row[column] : shown(row[column]!)"
            :data-cell="`${at} ${column}`"
            :disabled="disabled"
            :inputmode="characteristic.kind === 'measured' ? 'decimal' : 'text'"
            :placeholder="characteristic.kind === 'yes or no' ? 'y / n' : ''"
            autocomplete="off"
            :aria-label="`${characteristic.name}, number ${at + 1}`"
            :aria-invalid="verdictOf(at, column) === 'fail' || Boolean(fields[`samples.${at}.${column}`])"
            class="h-8 w-28 rounded-block border bg-sheet px-2 sm:w-36 pointer-coarse:h-[44px]"
            :class="[
              verdictOf(at, column) === 'fail' ? 'border-brick font-semibold text-brick' : 'border-line',
              characteristic.kind === 'measured' && 'text-right',
            ]"
            @focus="typing = `${at} ${column}`"
            @input="type(at, column, $event)"
            @change="leave(at, column)"
            @blur="typing = ''"
            @paste="paste($event, at, column)"
            @keydown.enter="step($event, at, column, 1)"
            @keydown.down="step($event, at, column, 1)"
            @keydown.up="step($event, at, column, -1)"
          />
          <span v-if="fields[`samples.${at}.${column}`]" role="alert" class="block text-fine text-brick">{{
            fields[`samples.${at}.${column}`]
          }}</span>
        </td>
        <td class="py-1 pl-2">
          <span
            v-if="judged.samples[at] !== 'open'"
            :class="judged.samples[at] === 'fail' ? 'font-semibold text-brick' : 'text-soft'"
            >{{ judged.samples[at] === 'fail' ? 'fails' : 'passes' }}</span
          >
        </td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
