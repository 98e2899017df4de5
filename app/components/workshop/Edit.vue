<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { BuildAnswer } from '~~/shared/workshop/answers'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{ build: BuildAnswer }>()
const emit = defineEmits<{ done: []; close: [] }>()
const { asTyped } = usePrint()
const { busy, detail, fields, code, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const isDraft = computed(() => props.build.status === 'draft')
interface Row {
  id: number | null
  itemId: number | null
  forItemId: number | null
  shown: ItemName | null
  measured: MeasuredItem | null
  quantity: string
  unit: string
}
const form = reactive({
  quantity: asTyped(props.build.quantity),
  unit: props.build.unit,
  dueOn: props.build.dueOn,
  note: props.build.note,
})
const own = ref<MeasuredItem | null>(null)
const rows = ref<Row[]>([])
const touched = ref(false)
function begin(): void {
  rows.value = props.build.components.map((line) => ({
    id: line.id,
    itemId: line.itemId,
    forItemId: line.forItemId,
    shown: { id: line.itemId, code: line.code, name: line.name },
    measured: null,
    quantity: asTyped(
      line.inUnit.startsWith('≈') ? line.need : line.inUnit.replaceAll('\u202f', '').replaceAll(' ', ''),
    ),
    unit: line.inUnit.startsWith('≈') ? line.symbol : line.unit,
  }))
}
begin()
onMounted(async () => {
  own.value = await fetchMeasured(props.build.itemId)
  for (const row of rows.value) {
    row.measured = await fetchMeasured(row.itemId!)
    if (!props.build.components.some((line) => line.unit === row.unit)) {
      row.unit = row.measured.stockUnit
    }
  }
})
async function chosen(row: Row, id: number): Promise<void> {
  touched.value = true
  row.measured = await fetchMeasured(id)
  row.unit = row.measured.stockUnit
}
async function save(): Promise<void> {
  const lines = touched.value
    ? {
        lines: rows.value.map(({ id, itemId, forItemId, quantity, unit }) => ({
          id,
          itemId,
          forItemId,
          quantity,
          unit,
        })),
      }
    : {}
  if (
    await run(() =>
      $fetch(`/api/workshop/builds/${props.build.id}`, {
        method: 'PUT',
        body: { version: props.build.version, ...form, ...lines },
      }),
    )
  ) {
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="`Change ${build.number}`"
    act="Save the job"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 md:grid-cols-[14rem_11rem_1fr] gap-3">
      <UiQuantityField
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="How much"
        :item="own"
        :error="fields.quantity"
      />
      <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" />
      <UiTextField v-model="form.note" label="Note" :error="fields.note" />
    </div>
    <p v-if="!isDraft" class="mt-3 text-soft">
      It is {{ build.status }}: how much and what it takes stand. Free its components first to change them.
    </p>
    <template v-else>
      <h3 class="mt-4 mb-1 font-semibold">What this job takes</h3>
      <p class="mb-2 text-soft">
        For all of it. Lines left as they are follow the quantity; what you write here holds for this job alone.
      </p>
      <div
        v-for="(row, index) in rows"
        :key="index"
        class="grid grid-cols-1 md:grid-cols-[1fr_14rem_2rem] items-start gap-3 border-t border-line/60 py-2"
      >
        <UiItemField
          v-model="row.itemId"
          :shown="row.shown"
          :label="`Component ${index + 1}`"
          hide-label
          :error="fields[`lines.${index}.itemId`]"
          @chosen="chosen(row, $event.id)"
        />
        <UiQuantityField
          v-model="row.quantity"
          v-model:unit="row.unit"
          :label="`Quantity of component ${index + 1}`"
          hide-label
          :item="row.measured"
          :error="fields[`lines.${index}.quantity`]"
          @update:model-value="touched = true"
          @update:unit="touched = true"
        />
        <UiButton
          small
          class="mt-1"
          :aria-label="`Leave component ${index + 1} out`"
          @click="
            () => {
              rows.splice(index, 1)
              touched = true
            }
          "
          >×</UiButton
        >
      </div>
      <UiButton
        small
        class="mt-2"
        @click="
          () => {
            rows.push({
              id: null,
              itemId: null,
              forItemId: null,
              shown: null,
              measured: null,
              quantity: '',
              unit: 'piece',
            })
            touched = true
          }
        "
        >Another component</UiButton
      >
      <UiButton
        v-if="touched"
        small
        class="mt-2 ml-2"
        @click="
          () => {
            begin()
            touched = false
          }
        "
        >As it was</UiButton
      >
    </template>
    <UiButton v-if="code === 'stale-version'" class="mt-2" @click="emit('done')">Reload</UiButton>
  </UiDialog>
</template>
