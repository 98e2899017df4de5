<script setup lang="ts">
import { toDay, toIso } from '~~/core/calendar/days'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** What is agreed with a supplier: how much of which items at which price, from when until when. */
const emit = defineEmits<{ done: [id: number]; close: [] }>()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  supplierId: null as number | null,
  reference: '',
  fromOn: session.today,
  untilOn: toIso(toDay(session.today) + 364),
  note: '',
})
interface Line {
  itemId: number | null
  measured: MeasuredItem | null
  quantity: string
  unit: string
  price: string
}
const blank = (): Line => ({ itemId: null, measured: null, quantity: '', unit: 'piece', price: '' })
const lines = ref<Line[]>([blank()])
async function measure(line: Line): Promise<void> {
  const item = await fetchMeasured(line.itemId!)
  line.measured = item
  line.unit = item.buyingUnit ?? item.stockUnit
}
async function save(): Promise<void> {
  const made = await run((key) =>
    $fetch<{ id: number; number: string }>('/api/purchasing/blankets', {
      method: 'POST',
      body: {
        key,
        ...form,
        lines: lines.value.map(({ itemId, quantity, unit, price }) => ({ itemId, quantity, unit, price })),
      },
    }),
  )
  if (made) {
    notices.say({ kind: 'done', text: `${made.number} is noted. Call off from it as you need it.` })
    emit('done', made.id)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="New blanket order"
    act="Note the blanket order"
    wide
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="mb-4 grid items-start gap-3 sm:grid-cols-[1fr_11rem_11rem]">
      <UiPartnerField v-model="form.supplierId" kind="supplier" label="Supplier" :error="fields.supplierId" />
      <UiDateField v-model="form.fromOn" label="From" :error="fields.fromOn" />
      <UiDateField v-model="form.untilOn" label="Until" :error="fields.untilOn" />
    </div>
    <UiLinesTable class="w-full" aria-label="What is agreed">
      <thead>
        <tr>
          <th class="text-left">Item</th>
          <th class="text-left">Quantity in all</th>
          <th class="text-left">Price for one</th>
          <th><span class="sr-only">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, index) in lines" :key="index" class="align-top">
          <td class="min-w-56 pr-2 pb-2">
            <UiItemField
              v-model="line.itemId"
              :label="`Item, line ${index + 1}`"
              hide-label
              :error="fields[`lines.${index}.itemId`]"
              @chosen="measure(line)"
            />
          </td>
          <td class="w-52 pr-2">
            <UiQuantityField
              v-model="line.quantity"
              v-model:unit="line.unit"
              :label="`Quantity, line ${index + 1}`"
              hide-label
              :item="line.measured"
              :error="fields[`lines.${index}.quantity`]"
            />
          </td>
          <td class="w-36 pr-2">
            <UiMoneyField
              v-model="line.price"
              :label="`Price, line ${index + 1}`"
              hide-label
              :currency="references.currencyOf(form.supplierId)"
              :error="fields[`lines.${index}.price`]"
            />
          </td>
          <td class="w-9">
            <UiButton :aria-label="`Remove line ${index + 1}`" @click="lines.splice(index, 1)">×</UiButton>
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
    <p v-if="fields.lines" class="mt-1 text-fine text-brick" role="alert">{{ fields.lines }}</p>
    <UiButton small class="mt-1" @click="lines.push(blank())">Add a line</UiButton>
    <div class="mt-4 grid gap-3 sm:grid-cols-[14rem_1fr]">
      <UiTextField v-model="form.reference" label="The supplier’s number" :error="fields.reference" />
      <UiTextField v-model="form.note" label="Note" :error="fields.note" />
    </div>
  </UiDialog>
</template>
