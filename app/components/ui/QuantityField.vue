<script setup lang="ts">
import { describeUnitError } from '~~/core/units/graph'
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import { toText, ZERO } from '~~/core/units/exact'
import { stepThatHolds } from '~~/shared/catalogue/measure'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  label: string
  item: MeasuredItem | null
  error?: string
  hideLabel?: boolean
  exact?: boolean
  quiet?: boolean
}>()
const text = defineModel<string>({ required: true })
const unit = defineModel<string>('unit', { required: true })
const session = useSession()
/** The item with the finer step that was chosen here. */
const finer = ref<MeasuredItem | null>(null)
const measured = computed(() => (finer.value && finer.value.id === props.item?.id ? finer.value : props.item))
const { measure, units } = useMeasure(() => measured.value)
const refining = useAct()
const { printed, digits, tooCoarse } = usePrint()

const read = computed(() =>
  measure.value && text.value.trim() !== ''
    ? readStockQuantity(typedQuantity(text.value), unit.value, measure.value, 'recorded', session.company?.decimalSign)
    : null,
)
const nameOf = (code: string): string => measure.value?.graph.units.get(code)?.symbol ?? code
const problem = computed(
  () => props.error || (read.value && !read.value.ok ? describeUnitError(read.value.error, nameOf) : ''),
)
/** The step that would hold what is typed, where that of the item does not and one can. */
const better = computed(() =>
  measure.value && !props.exact && read.value?.ok && !read.value.value.residue.equals(ZERO)
    ? stepThatHolds(read.value.value.exact, measure.value.finestStep)
    : null,
)
/** What it is in the stock unit, and what does not fall on a finest step; nothing is dropped without a word. */
const summary = computed(() => {
  if (!read.value?.ok || !measured.value) {
    return ''
  }
  if (better.value) {
    const { exact, quantity } = read.value.value
    return tooCoarse(
      { quantity: exact, becomes: quantity },
      measured.value.finestStep,
      nameOf(measured.value.stockUnit),
    )
  }
  const { value } = read.value
  const residue =
    !props.exact && !value.residue.equals(ZERO)
      ? `, residue ${printed(value.residueEntered, 6)} ${nameOf(value.unit)}`
      : ''
  const plain = value.unit === measured.value.stockUnit && residue === '' && toText(value.exact) === text.value.trim()
  return plain
    ? ''
    : `= ${printed(props.exact ? value.exact : value.quantity, 6)} ${nameOf(measured.value.stockUnit)}${residue}`
})

const unitChoices = computed(() => {
  const offered = units.value.map((choice) => ({ value: choice.code, name: choice.symbol, code: choice.code }))
  return offered.some((choice) => choice.value === unit.value)
    ? offered
    : [...offered, { value: unit.value, name: unit.value, code: unit.value }]
})

/** Records the item in the better step from now on; whatever is stored keeps its value. */
async function refine(): Promise<void> {
  const [from, finestStep] = [measured.value, better.value]
  if (from && finestStep && (await refining.run(() => changeFinestStep(from.id, finestStep)))) {
    finer.value = { ...from, finestStep }
  }
}
</script>

<template>
  <UiField
    v-slot="{ id, described }"
    :label="label"
    :error="refining.detail.value || (quiet ? error : problem)"
    :hint="summary"
    :warning="Boolean(better)"
    :hint-act="better && session.allows('catalogue') ? `record it in steps of ${digits(better)}` : undefined"
    :hide-label="hideLabel"
    @hint-act="refine"
  >
    <div class="flex">
      <input
        :id="id"
        v-model="text"
        inputmode="decimal"
        autocomplete="off"
        :aria-invalid="Boolean(problem)"
        :aria-describedby="described"
        class="field rounded-r-none text-right"
        :class="problem && 'field-wrong'"
      />
      <UiChoice
        v-model="unit"
        class="max-w-28 min-w-16 shrink-0"
        :label="`Unit of ${label}`"
        hide-label
        :options="unitChoices"
        look="rounded-l-none border-l-0 bg-wash text-soft"
      />
    </div>
  </UiField>
</template>
