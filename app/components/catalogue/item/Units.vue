<script setup lang="ts">
import { describeUnitError } from '~~/core/units/graph'
import { coarserThanUnit, measureOf } from '~~/shared/catalogue/measure'
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import type { ItemForm } from '~/composables/catalogue/use-item-form'

const props = defineProps<{ fields: Record<string, string>; moved?: boolean; disabled?: boolean; ladder?: boolean }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const { follow } = useInherited(form)
const { tooCoarse, digits } = usePrint()
const adding = ref(false)
// Units that were the stock unit go along with it.
watch(
  () => form.value.stockUnit,
  (unit, before) => {
    for (const field of ['buyingUnit', 'sellingUnit', 'makingUnit'] as const) {
      if (form.value[field] === before) {
        form.value[field] = unit
      }
    }
  },
)

const unitOptions = computed(() =>
  references.units
    .filter((u) => !u.retired)
    .map((u) => ({ value: u.code, name: `${u.name} (${u.symbol})`, code: u.symbol })),
)
const columns = computed<GridColumn[]>(() => [
  { key: 'unit', name: 'One', kind: 'choice', options: unitOptions.value },
  { key: 'per', name: 'holds', kind: 'number', width: '7rem' },
  { key: 'ofUnit', name: 'of', kind: 'choice', options: unitOptions.value },
])
const drawn = computed(() => drawnItem(form.value))
const measure = computed(() => measureOf(references.units, drawn.value))
/** Beneath the finest step: what it would lose, with the better step to take; else where it comes from. */
const stepHint = computed(() => {
  const unit = references.units.find((u) => u.code === form.value.stockUnit)
  const coarse = unit && coarserThanUnit(drawn.value.finestStep, unit)
  if (coarse) {
    const symbol = references.symbol(form.value.stockUnit)
    return {
      hint: tooCoarse(coarse, drawn.value.finestStep, symbol),
      hintAct: props.disabled ? undefined : `take ${digits(coarse.better)}`,
      onHintAct: () => {
        form.value.finestStep = coarse.better
      },
      warning: true,
    }
  }
  return follow('finestStep').hint
    ? follow('finestStep')
    : { hint: `${references.symbol(form.value.stockUnit)}, the least the ledger records` }
})
const contradiction = computed(() =>
  measure.value.ok || Object.keys(props.fields).some((field) => field.startsWith('relations'))
    ? ''
    : describeUnitError(measure.value.error, references.unitName),
)
</script>

<template>
  <div class="grid gap-8" :class="ladder && 'grid-cols-1 md:grid-cols-[1fr_20rem]'">
    <div class="grid content-start gap-4">
      <div class="grid grid-cols-2 md:grid-cols-3 gap-3">
        <UiChoice
          v-model="form.stockUnit"
          label="Stock unit"
          :disabled="moved || disabled"
          :error="fields.stockUnit"
          :options="unitOptions"
          v-bind="follow('stockUnit')"
        />
        <UiTextField
          v-model="form.finestStep"
          label="Finest step"
          right
          :error="fields.finestStep"
          :disabled="disabled"
          v-bind="stepHint"
        />
        <div class="flex items-end pb-1">
          <UiButton v-if="!disabled" small @click="adding = true">Add a unit of your own</UiButton>
        </div>
        <UiChoice
          v-model="form.buyingUnit"
          label="Buying unit"
          :error="fields.buyingUnit"
          :disabled="disabled"
          :options="unitOptions"
          v-bind="follow('buyingUnit')"
        />
        <UiChoice
          v-model="form.sellingUnit"
          label="Selling unit"
          :error="fields.sellingUnit"
          :disabled="disabled"
          :options="unitOptions"
          v-bind="follow('sellingUnit')"
        />
        <UiChoice
          v-model="form.makingUnit"
          label="Making unit"
          :error="fields.makingUnit"
          :disabled="disabled"
          :options="unitOptions"
          v-bind="follow('makingUnit')"
        />
      </div>
      <div>
        <h3 class="mb-1 font-semibold">Packs and bridges</h3>
        <p class="mb-2 text-fine text-soft">
          A carton holds 24 pieces; one metre of this cloth is 1.32 m². What is true of every item (kg and g, m and cm)
          needs no line.
        </p>
        <UiGrid
          v-model="form.relations"
          label="Packs and bridges"
          path="relations"
          :columns="columns"
          :fields="fields"
          :disabled="disabled"
          :blank="() => ({ unit: form.buyingUnit, per: '', ofUnit: form.stockUnit })"
          add="Add a pack or bridge"
        />
        <p v-if="contradiction" role="alert" class="mt-2 text-fine text-brick">{{ contradiction }}</p>
      </div>
    </div>
    <CatalogueUnitLadder v-if="ladder" :item="drawn" />
    <CatalogueQuickAdd v-if="adding" kind="units" @done="adding = false" @close="adding = false" />
  </div>
</template>
