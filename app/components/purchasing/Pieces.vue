<script setup lang="ts">
import { readStockQuantity, type ItemMeasure, typedQuantity } from '~~/core/units/quantity'
import { toSteps, toText, ZERO } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

export interface ReceivedPiece {
  quantity: string
  unit: string
  label: string
  lot: string
  traits: Record<string, string>
}
const props = defineProps<{
  code: string
  groupId: number
  measured: MeasuredItem
  measure: ItemMeasure | null
  listed: string
  unit: string
  symbol: string
  fields: Readonly<Record<string, string>>
  at: string
}>()
const pieces = defineModel<ReceivedPiece[]>({ required: true })
const session = useSession()
const { amount, asTyped, printed } = usePrint()
const rules = computed(() => useTraitRules(props.groupId))
const body = useTemplateRef('body')
/** Lot and traits are those of the first until something else is written. */
const add = (quantity = ''): void => {
  const [first] = pieces.value
  pieces.value.push({
    quantity,
    unit: first?.unit ?? props.measured.stockUnit,
    label: '',
    lot: first?.lot ?? '',
    traits: { ...first?.traits },
  })
}
if (pieces.value.length === 0) {
  add()
}
const read = (text: string, unit: string) => {
  const r =
    props.measure && text.trim() !== ''
      ? readStockQuantity(typedQuantity(text), unit, props.measure, 'recorded', session.company?.decimalSign)
      : null
  return r?.ok ? r.value : null
}
/** What the pieces measure, held against what the packing list says of all. */
const held = computed(() => {
  const measured = pieces.value.map((piece) => read(piece.quantity, piece.unit))
  const sum = measured.reduce((total, measure) => (measure ? total.add(measure.exact) : total), ZERO)
  const listed = read(props.listed, props.unit)
  if (!listed || !props.measure) {
    return { sum: toText(sum), count: measured.filter(Boolean).length, rest: null, residue: null, off: null }
  }
  const left = listed.exact.sub(sum)
  const steps = left.compare(ZERO) > 0 ? toSteps(left, props.measure.finestStep, 'recorded').quantity : ZERO
  const fits = left.abs().compare(props.measure.finestStep) < 0
  return {
    sum: printed(sum, 6),
    count: measured.filter(Boolean).length,
    listed: printed(listed.exact, 4),
    rest: !fits && steps.compare(ZERO) > 0 ? toText(steps) : null,
    residue: fits && !left.equals(ZERO) ? printed(left, 6) : null,
    off: !fits ? printed(left.abs(), 4) : null,
    over: left.compare(ZERO) < 0,
    fits,
  }
})
function takeRest(): void {
  const open = pieces.value.find((piece) => piece.quantity.trim() === '')
  if (open) {
    open.quantity = asTyped(held.value.rest!)
    open.unit = props.measured.stockUnit
  } else {
    add(asTyped(held.value.rest!))
    pieces.value.at(-1)!.unit = props.measured.stockUnit
  }
}
/** Enter goes to the next length, and makes a row where there is none. */
async function goOn(index: number): Promise<void> {
  if (index === pieces.value.length - 1) {
    add()
  }
  await nextTick()
  body.value?.querySelectorAll<HTMLInputElement>('tr td:nth-child(2) input')[index + 1]?.focus()
}
/** A column of lengths pasted becomes a row each. */
function paste(event: ClipboardEvent, index: number): void {
  const lengths = (event.clipboardData?.getData('text') ?? '')
    .split(/[\n\t;]+/)
    .map((text) => text.trim())
    .filter(Boolean)
  if (lengths.length < 2) {
    return
  }
  event.preventDefault()
  pieces.value[index]!.quantity = lengths[0]!
  for (const length of lengths.slice(1)) {
    add(length)
  }
}
function writeTrait(index: number, name: string, text: string): void {
  const before = pieces.value[0]!.traits[name] ?? ''
  for (const [position, piece] of pieces.value.entries()) {
    if (position === index || (index === 0 && (piece.traits[name] ?? '') === before)) {
      piece.traits = { ...piece.traits, [name]: text }
    }
  }
}
function writeLot(index: number, text: string): void {
  const before = pieces.value[0]!.lot
  for (const [position, piece] of pieces.value.entries()) {
    if (position === index || (index === 0 && piece.lot === before)) {
      piece.lot = text
    }
  }
}
const wrongOf = (index: number, field: string): string | undefined => {
  // The server counts the pieces that have a length.
  const position = pieces.value.slice(0, index).filter((piece) => piece.quantity.trim() !== '').length
  return props.fields[`${props.at}${position}.${field}`]
}
const CELL = 'h-9 w-full min-w-0 rounded-block border bg-sheet px-2'
</script>

<template>
  <div class="mt-3">
    <UiLinesTable class="w-full" :aria-label="`Pieces of ${code}`">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th class="w-8" />
          <th class="w-44 pb-1 font-medium">Measures</th>
          <th class="pb-1 pl-2 font-medium">Lot</th>
          <th v-for="rule in rules" :key="rule.name" class="pb-1 pl-2 font-medium">{{ rule.name }}</th>
          <th class="pb-1 pl-2 font-medium">Label, else the next</th>
          <th class="w-8" />
        </tr>
      </thead>
      <tbody ref="body">
        <tr v-for="(piece, index) in pieces" :key="index" class="align-top">
          <td class="pt-2 text-soft">{{ index + 1 }}</td>
          <td class="pb-1.5" @keydown.enter.prevent="goOn(index)" @paste="paste($event, index)">
            <UiQuantityField
              v-model="piece.quantity"
              v-model:unit="piece.unit"
              :label="`Piece ${index + 1} of ${code} measures`"
              hide-label
              :item="measured"
              :error="wrongOf(index, 'quantity')"
            />
          </td>
          <td class="pb-1.5 pl-2">
            <input
              :value="piece.lot"
              :aria-label="`Lot of piece ${index + 1}`"
              :class="[CELL, wrongOf(index, 'lot') ? 'border-brick' : 'border-line']"
              @input="writeLot(index, ($event.target as HTMLInputElement).value)"
            />
            <p v-if="wrongOf(index, 'lot')" role="alert" class="text-fine text-brick">{{ wrongOf(index, 'lot') }}</p>
          </td>
          <td v-for="rule in rules" :key="rule.name" class="pb-1.5 pl-2">
            <UiChoice
              v-if="rule.kind === 'choice'"
              :model-value="piece.traits[rule.name] ?? ''"
              :label="`${rule.name} of piece ${index + 1}`"
              hide-label
              compact
              :options="traitChoices(rule)"
              @update:model-value="writeTrait(index, rule.name, String($event ?? ''))"
            />
            <input
              v-else
              :value="piece.traits[rule.name] ?? ''"
              :aria-label="`${rule.name} of piece ${index + 1}`"
              :class="[CELL, wrongOf(index, `traits.${rule.name}`) ? 'border-brick' : 'border-line']"
              @input="writeTrait(index, rule.name, ($event.target as HTMLInputElement).value)"
            />
            <p v-if="wrongOf(index, `traits.${rule.name}`)" role="alert" class="text-fine text-brick">
              {{ wrongOf(index, `traits.${rule.name}`) }}
            </p>
          </td>
          <td class="pb-1.5 pl-2">
            <input
              v-model="piece.label"
              :aria-label="`Label of piece ${index + 1}`"
              :class="[CELL, wrongOf(index, 'label') ? 'border-brick' : 'border-line']"
            />
            <p v-if="wrongOf(index, 'label')" role="alert" class="text-fine text-brick">
              {{ wrongOf(index, 'label') }}
            </p>
          </td>
          <td class="pt-1 pl-1">
            <UiButton
              v-if="pieces.length > 1"
              small
              :aria-label="`Remove piece ${index + 1}`"
              @click="pieces.splice(index, 1)"
              >×</UiButton
            >
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
    <div class="mt-1 flex flex-wrap items-center gap-3" data-test="pieces-sum">
      <UiButton small @click="add()">Another piece</UiButton>
      <UiButton v-if="held.rest" small @click="takeRest">The rest: {{ amount(held.rest, 6) }} {{ symbol }}</UiButton>
      <span class="flex items-center gap-2"
        ><GoodsBlock state="coming" class="h-3 w-5 border" />{{ held.count }}
        {{ plural(held.count, 'piece', 'pieces') }}, <b class="font-semibold">{{ held.sum }} {{ symbol }}</b
        ><span v-if="held.listed" class="text-soft">of {{ held.listed }} {{ symbol }} on the packing list</span></span
      >
      <span v-if="held.residue" class="text-soft"
        >residue {{ held.residue }} {{ symbol }}: less than the finest step, kept with the last piece</span
      >
      <span v-else-if="held.off" class="font-medium text-brick"
        >{{ held.off }} {{ symbol }} {{ held.over ? 'more than' : 'less than' }} the list says</span
      >
    </div>
  </div>
</template>
