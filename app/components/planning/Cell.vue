<script setup lang="ts">
import type { MadeOfPart } from '~~/shared/planning/made-of'
import { blockOf, ORDER_VERB, sourceOf, type PlannedOrder } from '~/composables/planning/planned-orders'
import type { LookedAt } from '~/composables/planning/use-board-rows'

/** One cell of the plan board answers: what is short, what its figures are made of, what fills it and why so. */
const props = defineProps<{ planId: number; cell: LookedAt; mayRelease: boolean; isTried: boolean }>()
const emit = defineEmits<{ close: []; release: [order: PlannedOrder] }>()
const { day, digits } = usePrint()
const { data, error, pending } = useLazyFetch(() => `/api/planning/plans/${props.planId}/made-of`, {
  query: { node: props.cell.node, first: props.cell.first, last: props.cell.last },
})
const LINES = [
  ['wanted', 'Wanted', 'missing'],
  ['coming', 'Coming', 'coming'],
  ['planned', 'Planned to be there', 'coming planned'],
  ['released', 'To be released', 'making planned'],
  ['lost', 'Lost', 'held'],
] as const
const groups = computed(() =>
  LINES.map(([line, name, state]) => ({
    line,
    name,
    state,
    parts: data.value?.parts.filter((part: MadeOfPart) => part.line === line) ?? [],
  })).filter((group) => group.parts.length > 0),
)
const span = computed(() =>
  props.cell.first === props.cell.last ? day(props.cell.first) : `${day(props.cell.first)} to ${day(props.cell.last)}`,
)
const why = ref<number | null>(null)
</script>

<template>
  <UiSideSheet :title="`${cell.code}, ${span}`" @close="emit('close')">
    <p class="text-soft">{{ cell.name }}</p>
    <p v-if="cell.shortage" class="mt-2 flex items-center gap-2 font-semibold text-brick" data-test="shortage">
      <GoodsBlock state="missing" class="h-4 w-6" />{{ cell.shortage }} short
    </p>
    <p v-for="message in cell.messages" :key="message" class="mt-2 text-brick">{{ message }}</p>
    <p v-if="isTried" class="mt-2 rounded-block bg-maple/15 px-3 py-1.5 text-fine">
      This is the plan as it is kept, without what is tried out.
    </p>

    <section v-if="cell.orders.length" class="mt-4" aria-label="What fills it">
      <h3 class="font-semibold">What fills it</h3>
      <div v-for="order in cell.orders" :key="order.id" class="mt-2 rounded-block border border-line p-3">
        <p class="flex flex-wrap items-center gap-x-2">
          <GoodsBlock :state="`${blockOf(order)} planned`" class="h-3.5 w-6" />
          <b class="font-semibold">{{ ORDER_VERB[order.kind] }} {{ digits(order.quantity) }} {{ order.symbol }}</b>
          <span v-if="order.inUnit" class="text-soft"
            >as {{ digits(order.inUnit.quantity) }} {{ order.inUnit.symbol }}</span
          >
          <span class="text-soft">{{ sourceOf(order) }}</span>
        </p>
        <p class="mt-1">
          Release {{ day(order.releaseOn) }}, due {{ day(order.dueOn) }}
          <span v-if="order.lateBy > 0" class="font-medium text-brick"
            >· there on {{ day(order.promisedOn) }}, {{ order.lateBy }}
            {{ plural(order.lateBy, 'day', 'days') }} late</span
          >
        </p>
        <div class="mt-2 flex gap-2">
          <UiButton v-if="mayRelease" small primary @click="emit('release', order)"
            >Release {{ digits(order.quantity) }} {{ order.symbol }}</UiButton
          >
          <UiButton small :aria-expanded="why === order.id" @click="why = why === order.id ? null : order.id"
            >Why?</UiButton
          >
        </div>
        <Suspense v-if="why === order.id"
          ><PlanningWhyChain class="mt-3" :plan-id="planId" :order-id="order.id"
        /></Suspense>
      </div>
    </section>

    <section class="mt-4" aria-label="What the figures are made of">
      <h3 class="font-semibold">What it is made of</h3>
      <UiProblem v-if="error" :text="problemOf(error).detail" />
      <p v-else-if="pending" class="mt-1 text-soft">Adding up …</p>
      <template v-else-if="data">
        <p class="mt-1 flex justify-between">
          <span class="text-soft">There before</span><b>{{ data.before }}</b>
        </p>
        <section v-for="group in groups" :key="group.line" class="mt-3">
          <h4 class="flex items-center gap-2 font-semibold">
            <GoodsBlock :state="group.state" class="h-3 w-5" />{{ group.name }}
          </h4>
          <ul>
            <li
              v-for="(part, index) in group.parts"
              :key="index"
              class="grid grid-cols-[5rem_1fr_auto] gap-2 border-b border-line/60 py-1 last:border-0"
            >
              <span class="text-soft">{{ day(part.day) }}</span><span>{{ part.label }}</span
              ><span class="text-right">{{ part.quantity }}</span>
            </li>
          </ul>
        </section>
        <p v-if="groups.length === 0" class="mt-2 text-soft">Nothing happens to it in these days.</p>
        <p class="mt-3 flex justify-between border-t border-line pt-2">
          <span class="text-soft">There after</span><b>{{ data.after }}</b>
        </p>
      </template>
    </section>
  </UiSideSheet>
</template>
