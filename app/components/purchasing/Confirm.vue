<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { ratio } from '~~/core/units/exact'
import type { ServedLater } from '~~/shared/stock/served-later'

interface Line {
  readonly id: number
  readonly line: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly entered: string
  readonly unit: string
  readonly price: string
  readonly dueOn: string
  readonly quantity: string
  readonly received: string
  readonly closedShort: boolean
  readonly confirmedOn: string | null
}
/** What the supplier confirms, typed or read from their answer; who waits for it is told before it is recorded. */
const props = defineProps<{
  order: {
    id: number
    number: string
    version: number
    supplier: string
    supplierReference: string
    currency: string | null
    lines: readonly Line[]
  }
}>()
const emit = defineEmits<{ close: []; done: [] }>()
const references = useReferences()
const notices = useNotices()
const { asTyped, day, digits, price } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const reference = ref(props.order.supplierReference)
const lines = ref(
  props.order.lines
    .filter((line) => !line.closedShort && ratio(line.received).compare(ratio(line.quantity)) < 0)
    .map((line) => ({
      ...line,
      confirmed: { quantity: asTyped(line.entered), price: line.price, dueOn: line.dueOn },
    })),
)
const body = computed(() => lines.value.map(({ id, confirmed }) => ({ lineId: id, ...confirmed })))

const waiting = useAct({ latest: true })
const late = shallowRef<readonly ServedLater[]>([])
watchDebounced(
  body,
  async () => {
    late.value =
      (await waiting.run(() =>
        $fetch(`/api/purchasing/orders/${props.order.id}/waiting`, { method: 'POST', body: { lines: body.value } }),
      )) ?? []
  },
  { debounce: 250, deep: true },
)

const answer = useAct()
const unknown = ref<readonly string[]>([])
async function read(event: Event): Promise<void> {
  const chosen = event.target as HTMLInputElement
  const text = await chosen.files?.[0]?.text()
  chosen.value = ''
  if (text === undefined) {
    return
  }
  const found = await answer.run(() =>
    $fetch(`/api/purchasing/orders/${props.order.id}/answer`, { method: 'POST', body: { text } }),
  )
  if (!found) {
    return
  }
  reference.value = found.reference || reference.value
  unknown.value = found.unknown
  for (const { lineId, quantity, price: of, dueOn } of found.lines) {
    const line = lines.value.find((entry) => entry.id === lineId)
    if (line) {
      line.confirmed = { quantity: asTyped(quantity), price: of, dueOn }
    }
  }
}

async function confirm(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/confirm`, {
      method: 'POST',
      body: { key, version: props.order.version, reference: reference.value, lines: body.value },
    }),
  )
  if (!done) {
    return
  }
  notices.say({ kind: 'done', text: `${props.order.number} is confirmed.` })
  void refreshToday()
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`What ${order.supplier} confirms of ${order.number}`"
    act="Record the confirmation"
    wide
    records
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="confirm"
  >
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <UiTextField v-model="reference" class="w-64" label="The supplier’s number" :error="fields.reference" />
      <label
        class="inline-flex h-9 cursor-pointer items-center rounded-block border border-line bg-sheet px-3.5 font-medium focus-within:outline-2 focus-within:outline-ink hover:bg-wash"
        >Read their answer (UBL)<input
          type="file"
          class="sr-only"
          accept=".xml,application/xml,text/xml"
          @change="read"
      /></label>
    </div>
    <UiProblem :text="answer.detail.value" class="mb-3" />
    <p v-if="unknown.length" class="mb-3 text-brick">Not on this order: {{ unknown.join('; ') }}.</p>
    <UiLinesTable class="w-full" aria-label="Lines">
      <thead>
        <tr>
          <th class="text-left">Item</th>
          <th class="text-right">Ordered</th>
          <th class="text-left">Confirmed</th>
          <th class="text-left">Price</th>
          <th class="text-left">Comes on</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, index) in lines" :key="line.id">
          <td><UiItemChip :id="line.itemId" :code="line.code" :name="line.name" /></td>
          <td class="text-right">
            {{ digits(line.entered) }} {{ references.symbol(line.unit)
            }}<span class="block text-fine text-soft"
              >{{ price(line.price, order.currency) }}, {{ day(line.dueOn) }}</span
            >
          </td>
          <td>
            <UiTextField
              v-model="line.confirmed.quantity"
              class="w-24"
              right
              :label="`Confirmed quantity of ${line.code}`"
              hide-label
              :error="fields[`lines.${index}.quantity`]"
            />
          </td>
          <td>
            <UiMoneyField
              v-model="line.confirmed.price"
              class="w-28"
              :label="`Confirmed price of ${line.code}`"
              hide-label
              :currency="order.currency ?? undefined"
              :error="fields[`lines.${index}.price`]"
            />
          </td>
          <td>
            <UiDateField
              v-model="line.confirmed.dueOn"
              class="w-36"
              :label="`Day on which ${line.code} comes`"
              hide-label
              :error="fields[`lines.${index}.dueOn`]"
            />
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
    <div aria-live="polite"><StockServedLater v-if="late.length" :rows="late" /></div>
  </UiDialog>
</template>
