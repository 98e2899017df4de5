<script setup lang="ts">
import { ratio, toDecimal } from '~~/core/units/exact'
import type { BillForm } from '~/composables/structure/use-bill-form'
import type { PartItem, PartStructure } from '~~/shared/structure/parts'

const props = defineProps<{
  item: PartItem | null
  items: ReadonlyMap<number, PartItem>
  structure: PartStructure | null
  fields: Record<string, string>
  disabled?: boolean
}>()
const form = defineModel<BillForm>({ required: true })
const emit = defineEmits<{ want: [ids: number[]]; changed: [] }>()
const references = useReferences()
const { price } = usePrint()
const unitOptions = computed(() =>
  references.units.filter((u) => !u.retired).map((u) => ({ value: u.code, name: u.name, code: u.symbol })),
)
const columns = computed(() => [
  { key: 'itemId', name: 'By-product', kind: 'item' as const },
  { key: 'quantity', name: 'Quantity a batch', kind: 'number' as const, width: '9rem' },
  { key: 'unit', name: 'Unit', kind: 'choice' as const, options: unitOptions.value, width: '9rem' },
  { key: 'sharePercent', name: 'Share of the cost, %', kind: 'number' as const, width: '9rem' },
])
const adds = computed(() => {
  const bill = props.structure?.parts.bills.find((bill) => bill.itemId === props.item?.id)
  return bill ? { work: bill.work, other: bill.other } : null
})
const money = (text: string | null): string => (text === null ? '' : price(toDecimal(ratio(text), 2)))
const box = useTemplateRef<HTMLElement>('box')
function addStep(): void {
  form.value.steps.push({ position: '', text: '', pictureId: null } as never)
  void nextTick(() => {
    const all = box.value?.querySelectorAll<HTMLElement>('textarea')
    all?.[all.length - 1]?.focus()
  })
}
function moveStep(index: number, by: number): void {
  const [step] = form.value.steps.splice(index, 1)
  form.value.steps.splice(index + by, 0, step!)
}
async function chosen(row: { itemId: number | null; unit: string }, id: number): Promise<void> {
  emit('want', [id])
  row.unit = (await fetchMeasured(id)).stockUnit
}
</script>

<template>
  <form data-saves class="grid gap-4" aria-label="Work, steps and by-products" @submit.prevent="emit('changed')">
    <UiSheet title="Work and other cost">
      <div class="grid grid-cols-2 md:grid-cols-5 gap-3">
        <UiTextField
          v-model="form.workMinutes"
          label="Minutes a batch"
          right
          :disabled="disabled"
          :error="fields.workMinutes"
        />
        <UiTextField
          v-model="form.minutesPerUnit"
          label="and for each one"
          right
          :disabled="disabled"
          :error="fields.minutesPerUnit"
          :hint="item ? `one ${item.symbol}` : ''"
        />
        <UiMoneyField v-model="form.workRate" label="Rate an hour" :disabled="disabled" :error="fields.workRate" />
        <UiMoneyField
          v-model="form.otherCost"
          label="Other cost a batch"
          :disabled="disabled"
          :error="fields.otherCost"
          hint="a die, outside work, power"
        />
        <p v-if="adds" class="self-center text-soft">
          adds {{ money(adds.work) }} of work<template v-if="adds.other !== '0'">
            and {{ money(adds.other) }} other</template
          >
          to one {{ item?.symbol }}
        </p>
      </div>
    </UiSheet>
    <UiSheet title="Steps for the bench">
      <ol ref="box" class="grid gap-3">
        <li
          v-for="(step, index) in form.steps"
          :key="index"
          class="grid grid-cols-1 md:grid-cols-[1.5rem_1fr_10rem_auto] items-start gap-3"
        >
          <b class="pt-1.5 text-right text-soft">{{ index + 1 }}</b>
          <p v-if="disabled" class="pt-1.5">{{ step.text }}</p>
          <UiTextField
            v-else
            v-model="step.text"
            :lines="2"
            :label="`Step ${index + 1}`"
            hide-label
            :error="fields[`steps.${index}.text`]"
          />
          <img
            v-if="disabled && step.pictureId"
            :src="`/api/catalogue/pictures/${step.pictureId}?size=small`"
            alt=""
            class="max-h-24 rounded-block border border-line"
          /><CataloguePicture v-else-if="!disabled" v-model="step.pictureId" /><span v-else />
          <div v-if="!disabled" class="flex gap-1">
            <UiButton small :disabled="index === 0" :aria-label="`Step ${index + 1} up`" @click="moveStep(index, -1)"
              >↑</UiButton
            ><UiButton
              small
              :disabled="index === form.steps.length - 1"
              :aria-label="`Step ${index + 1} down`"
              @click="moveStep(index, 1)"
              >↓</UiButton
            ><UiButton small :aria-label="`Remove step ${index + 1}`" @click="form.steps.splice(index, 1)">×</UiButton>
          </div>
        </li>
      </ol>
      <p v-if="form.steps.length === 0" class="text-soft">
        No steps yet. {{ disabled ? '' : 'Write what is done, in order; a picture says what words do not.' }}
      </p>
      <UiButton v-if="!disabled" small class="mt-2" @click="addStep">Add a step</UiButton>
    </UiSheet>
    <UiSheet title="What else a batch gives">
      <UiGrid
        v-model="form.byProducts"
        label="By-products"
        path="byProducts"
        :columns="columns"
        :fields="fields"
        :disabled="disabled"
        :blank="() => ({ itemId: null, quantity: '', unit: 'piece', sharePercent: '0' })"
        add="Add a by-product"
        empty="Nothing else comes out of it."
      >
        <template #itemId="{ row, at, error }"
          ><UiItemChip
            v-if="disabled && row.itemId !== null"
            :id="row.itemId"
            class="pt-1"
            :code="items.get(row.itemId)?.code ?? ''"
            :name="items.get(row.itemId)?.name" /><UiItemField
            v-else
            v-model="row.itemId"
            :label="`By-product ${at + 1}`"
            hide-label
            :error="error"
            :shown="row.itemId === null ? null : (items.get(row.itemId) ?? null)"
            @chosen="chosen(row, $event.id)"
        /></template>
      </UiGrid>
    </UiSheet>
  </form>
</template>
