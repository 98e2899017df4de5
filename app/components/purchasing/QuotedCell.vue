<script setup lang="ts">
import type { QuotationRow, QuotedRow, RequestLine } from '~~/shared/purchasing/quotations'

/** What one supplier quotes for one line: chosen by pressing it. */
const props = defineProps<{
  quoted: QuotedRow
  quotation: QuotationRow
  line: RequestLine
  isChosen: boolean
  isCheapest: boolean
  mayChoose: boolean
}>()
const emit = defineEmits<{ toggle: [] }>()
const references = useReferences()
const { day, digits, money, price } = usePrint()
const isLate = computed(() => props.quoted.arrivesOn > props.line.neededOn)
const isMore = computed(() => props.quoted.quantity !== props.line.entered || props.quoted.unit !== props.line.unit)
</script>

<template>
  <button
    type="button"
    class="block w-full rounded-block border px-2.5 py-1.5 text-left disabled:cursor-default"
    :class="isChosen ? 'border-maple bg-wash' : 'border-line hover:bg-wash'"
    :aria-pressed="isChosen"
    :disabled="!mayChoose || quoted.order !== null"
    @click="emit('toggle')"
  >
    <span class="sr-only">{{ line.code }} from {{ quotation.supplier }}: </span>
    <span class="flex items-baseline justify-between gap-2"
      ><b class="font-semibold">{{ quoted.landed ? money(quoted.landed) : 'no rate known' }}</b
      ><span v-if="isCheapest" class="text-fine text-soft">least</span></span
    >
    <span class="block text-fine"
      >{{ price(quoted.priceThen, quotation.currency) }} / {{ references.symbol(quoted.unit)
      }}<template v-if="isMore">, {{ digits(quoted.quantity) }} {{ references.symbol(quoted.unit) }}</template></span
    >
    <span class="block text-fine" :class="isLate ? 'font-semibold text-brick' : 'text-soft'"
      >there on {{ day(quoted.arrivesOn) }}</span
    >
    <span v-if="quoted.order" class="block text-fine text-soft">on {{ quoted.order.number }}</span>
  </button>
</template>
