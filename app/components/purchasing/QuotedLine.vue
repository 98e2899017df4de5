<script setup lang="ts">
import { X } from '@lucide/vue'
import type { RequestLine } from '~~/shared/purchasing/quotations'
import type { QuotedForm } from '~/composables/purchasing/quoted-form'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** What a supplier quotes for one line: its price, what they sell it in, and prices of larger quantities below. */
const props = defineProps<{
  asked: RequestLine
  currency: string | null
  fields: Record<string, string>
  /** Where it stands in what is recorded; below nought where no price is given. */
  place: number
}>()
const form = defineModel<QuotedForm>({ required: true })
const { digits, price } = usePrint()
const references = useReferences()
const item = ref<MeasuredItem | null>(null)
onMounted(async () => {
  item.value = await fetchMeasured(props.asked.itemId)
})
const { units } = useMeasure(() => item.value)
const choices = computed(() => {
  const offered = units.value.map((choice) => ({ value: choice.code, name: choice.symbol }))
  return offered.some((choice) => choice.value === form.value.unit)
    ? offered
    : [...offered, { value: form.value.unit, name: references.symbol(form.value.unit) }]
})
const fault = (field: string): string | undefined => props.fields[`lines.${props.place}.${field}`]
</script>

<template>
  <tbody>
    <tr class="align-top">
      <td class="pr-3 pb-1.5">
        <UiItemChip :id="asked.itemId" :code="asked.code" :name="asked.name" /><span class="block text-fine text-soft"
          >{{ digits(asked.entered) }} {{ references.symbol(asked.unit)
          }}<template v-if="asked.lastPrice"> · paid {{ price(asked.lastPrice) }} / {{ asked.symbol }}</template></span
        >
      </td>
      <td class="w-32 pr-2">
        <UiMoneyField
          v-model="form.price"
          :label="`Price of ${asked.code}`"
          hide-label
          :currency="currency ?? undefined"
          :error="fault('price')"
        />
      </td>
      <td class="w-24 pr-2">
        <UiChoice
          v-model="form.unit"
          :label="`Unit of ${asked.code}`"
          hide-label
          :options="choices"
          :error="fault('unit')"
        />
      </td>
      <td class="w-20 pr-2">
        <UiTextField
          v-model="form.minimum"
          right
          :label="`Minimum of ${asked.code}`"
          hide-label
          :error="fault('minimum')"
        />
      </td>
      <td class="w-20 pr-2">
        <UiTextField
          v-model="form.multiple"
          right
          :label="`Steps of ${asked.code}`"
          hide-label
          :error="fault('multiple')"
        />
      </td>
      <td class="w-20 pr-2">
        <UiTextField
          v-model="form.leadDays"
          right
          :label="`Lead time of ${asked.code}`"
          hide-label
          :error="fault('leadDays')"
        />
      </td>
      <td class="w-24 text-right">
        <UiButton small @click="form.tiers.push({ fromQuantity: '', price: '' })">More prices</UiButton>
      </td>
    </tr>
    <tr v-for="(tier, index) in form.tiers" :key="index">
      <td class="pr-3 text-right text-fine text-soft">from</td>
      <td class="pr-2">
        <UiTextField
          v-model="tier.fromQuantity"
          right
          :label="`From quantity ${index + 2} of ${asked.code}`"
          hide-label
          :error="fault(`tiers.${index}.fromQuantity`)"
        />
      </td>
      <td class="text-soft">{{ references.symbol(form.unit) }} at</td>
      <td colspan="2" class="pr-2">
        <UiMoneyField
          v-model="tier.price"
          :label="`Price ${index + 2} of ${asked.code}`"
          hide-label
          :currency="currency ?? undefined"
          :error="fault(`tiers.${index}.price`)"
        />
      </td>
      <td colspan="2">
        <button
          type="button"
          class="grid size-8 place-items-center text-soft hover:text-ink"
          :aria-label="`Remove price ${index + 2} of ${asked.code}`"
          @click="form.tiers.splice(index, 1)"
        >
          <X class="size-4" />
        </button>
      </td>
    </tr>
  </tbody>
</template>
