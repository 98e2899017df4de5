<script setup lang="ts">
import { convert, describeUnitError } from '~~/core/units/graph'
import { parseQuantity, typedQuantity } from '~~/core/units/quantity'
import { toText } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/**
 * A standing quantity of an item (a mark, a usual order): typed like any other, `2 carton + 5`, and kept in the stock
 * unit.
 */
const props = defineProps<{ label: string; item: MeasuredItem; error?: string; disabled?: boolean }>()
const value = defineModel<string>({ required: true })
const session = useSession()
const { measure, inPacks } = useMeasure(() => props.item)
const wrong = ref('')
const symbol = computed(() => measure.value?.graph.units.get(props.item.stockUnit)?.symbol ?? props.item.stockUnit)
const { asTyped } = usePrint()
const isPlain = computed(() => isPlainDecimal(value.value))
/** Typed and shown as people write it, stored plainly. */
const typing = ref(false)
const shown = computed({
  get: () => (isPlain.value && !typing.value ? asTyped(value.value) : value.value),
  set: (text) => {
    typing.value = true
    value.value = text
  },
})
const summary = computed(() =>
  isPlain.value && value.value !== '0'
    ? [symbol.value, inPacks(value.value)].filter(Boolean).join(' = ')
    : symbol.value,
)

function read(): void {
  wrong.value = ''
  typing.value = false
  const text = value.value.trim()
  const isStored = isPlain.value && session.company?.decimalSign !== ','
  if (text === '' || isStored || !measure.value) {
    return
  }
  const parsed = parseQuantity(typedQuantity(text), {
    graph: measure.value.graph,
    unit: props.item.stockUnit,
    loose: props.item.stockUnit,
    decimalSign: session.company?.decimalSign,
    anySign: true,
  })
  const inStock = parsed.ok
    ? convert(measure.value.graph, parsed.value.amount, parsed.value.unit, props.item.stockUnit)
    : parsed
  if (!inStock.ok) {
    wrong.value = describeUnitError(inStock.error, (code) => measure.value?.graph.units.get(code)?.name ?? code)
    return
  }
  const plain = toText(inStock.value)
  if (plain.includes('/')) {
    wrong.value = `${text} is ${plain} ${symbol.value}, which no decimal is. Type it in ${symbol.value}.`
  } else {
    value.value = plain
  }
}
</script>

<template>
  <UiField v-slot="{ id, wrong: isWrong, described }" :label="label" :error="wrong || error" :hint="summary">
    <input
      :id="id"
      v-model="shown"
      autocomplete="off"
      :disabled="disabled"
      :aria-invalid="isWrong"
      :aria-describedby="described"
      class="field text-right"
      :class="isWrong && 'field-wrong'"
      @change="read"
    />
  </UiField>
</template>
