<script setup lang="ts">
import type { KitToUnpack } from '~~/shared/workshop/answers'
import type { ItemName } from '~~/shared/catalogue/answers'
import { ratio, toText } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{ itemId?: number | null; shown?: ItemName | null }>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const notices = useNotices()
const { asTyped, amount } = usePrint()
const { written } = useWritten()
const { busy, detail, fields, run } = useAct()
const looking = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const kit = ref<KitToUnpack | null>(null)
const measured = ref<MeasuredItem | null>(null)
const form = reactive({
  itemId: props.itemId ?? (null as number | null),
  balanceId: null as number | null,
  quantity: '',
  unit: 'piece',
  binId: null as number | null,
})
const damaged = reactive<Record<number, { quantity: string; away: boolean }>>({})
async function chosen(id: number): Promise<void> {
  kit.value = null
  const found = await looking.run(() => $fetch<KitToUnpack>(`/api/workshop/kits/${id}`))
  if (!found) {
    return
  }
  measured.value = await fetchMeasured(id)
  kit.value = found
  form.unit = found.unit
  form.balanceId = found.choices[0]?.balanceId ?? null
  for (const part of found.parts) {
    damaged[part.itemId] = { quantity: '', away: false }
  }
  const [suggested] = found.parts.length
    ? await $fetch('/api/stock/put-away', { query: { items: found.parts[0]!.itemId } })
    : []
  form.binId = suggested?.binId ?? references.bins.find((bin) => !bin.closedToReceiving)?.id ?? null
}
if (props.itemId) {
  onMounted(() => chosen(props.itemId!))
}
const { typedNumber } = useTypedNumber()
const comes = (each: string): string => {
  const typed = typedNumber(form.quantity)
  return typed ? toText(ratio(each).mul(typed)) : '0'
}
const named = computed(() => kit.value?.parts.filter((part) => damaged[part.itemId]?.quantity.trim()) ?? [])
async function save(): Promise<void> {
  const { itemId, balanceId, quantity, unit, binId } = form
  const done = await run((key) =>
    $fetch('/api/workshop/unkit', {
      method: 'POST',
      body: {
        key,
        itemId,
        balanceId,
        quantity,
        unit,
        binId,
        damaged: named.value.map((part) => ({
          itemId: part.itemId,
          quantity: asTyped(damaged[part.itemId]!.quantity),
          unit: part.unit,
          away: damaged[part.itemId]!.away,
        })),
      },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${amount(done.quantity, 6)} ${kit.value!.symbol} ${kit.value!.code} unpacked: ${done.parts.map((part) => `${amount(part.quantity, 6)} ${part.code}${part.damaged === '0' ? '' : ` (${amount(part.damaged, 6)} damaged)`}`).join(', ')}.`,
  })
  void refreshToday()
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    title="Unpack a kit"
    :act="form.quantity ? `Unpack ${written(form.quantity, form.unit)}` : 'Unpack'"
    :busy="busy"
    :disabled="!kit || form.quantity === '' || form.balanceId === null"
    :problem="Object.keys(fields).length ? '' : detail || looking.detail.value"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiItemField
        v-model="form.itemId"
        source="kit"
        :shown="shown ?? null"
        label="Kit"
        :error="fields.itemId ?? looking.fields.value.itemId"
        @chosen="chosen($event.id)"
      />
      <UiQuantityField
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="How many"
        :item="measured"
        :error="fields.quantity"
      />
      <UiChoice
        v-model="form.balanceId"
        label="From"
        :options="
          kit?.choices.map((choice) => ({
            value: choice.balanceId,
            name: `${[choice.bin, choice.lot].filter(Boolean).join(', ')}: ${amount(choice.free, 6)} ${kit!.symbol}`,
          })) ?? []
        "
        :error="fields.balanceId"
      />
      <UiChoice
        v-model="form.binId"
        label="Parts into"
        :options="
          references.bins.filter((bin) => !bin.closedToReceiving).map((bin) => ({ value: bin.id, name: bin.name }))
        "
        :error="fields.binId"
      />
    </div>
    <p v-if="kit && kit.choices.length === 0" class="mt-3 text-soft">
      No packed {{ kit.code }} lies free anywhere, so none can be unpacked.
    </p>
    <UiLinesTable v-if="kit && kit.choices.length" class="mt-4 w-full" aria-label="What comes out">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th class="py-1 font-medium">Part</th>
          <th class="py-1 text-right font-medium">Output</th>
          <th class="w-40 py-1 pl-4 font-medium">Of it damaged</th>
          <th class="w-44 py-1 pl-3 font-medium">Parts</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="part in kit.parts" :key="part.itemId" class="border-t border-line/60 align-top">
          <td class="py-2">
            <b class="font-medium">{{ part.code }}</b> <span class="text-soft">{{ part.name }}</span>
          </td>
          <td class="py-2 text-right"><UiQty strong :of="comes(part.each)" :unit="part.symbol" /></td>
          <td class="py-1 pl-4">
            <UiTextField
              v-model="damaged[part.itemId]!.quantity"
              right
              hide-label
              :label="`Damaged of ${part.code}, in ${part.symbol}`"
              :error="fields[`damaged.${named.indexOf(part)}.quantity`]"
            />
          </td>
          <td class="py-1 pl-3">
            <UiChoice
              v-if="damaged[part.itemId]!.quantity.trim()"
              v-model="damaged[part.itemId]!.away as unknown as number"
              hide-label
              :label="`What happens to damaged ${part.code}`"
              :options="[
                { value: false as unknown as number, name: 'are kept as damaged' },
                { value: true as unknown as number, name: 'are thrown away' },
              ]"
            />
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
  </UiDialog>
</template>
