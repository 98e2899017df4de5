<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import type { PromiseAnswer, PromiseLine } from '~~/shared/demand'

interface Wanted {
  readonly itemId: number | null
  readonly quantity: string
  readonly unit: string
}
const props = defineProps<{
  lines: readonly Wanted[]
  dueOn: string
  orderId?: number | null
  /** On a new order a substitute can be taken at once. */ swaps?: boolean
}>()
const emit = defineEmits<{ swap: [at: number, item: { id: number; code: string; name: string }]; use: [day: string] }>()
const { day } = usePrint()
const { run, busy } = useAct({ latest: true })
const answer = ref<PromiseAnswer | null>(null)
const opened = ref(new Set<number>())

const whole = computed(() => props.lines.filter((line) => line.itemId !== null && line.quantity.trim() !== ''))
async function ask(): Promise<void> {
  if (whole.value.length === 0) {
    answer.value = null
    return
  }
  // Half-typed quantities are refused; the last answer stays until they can be read.
  const told = await run(() =>
    $fetch<PromiseAnswer>('/api/demand/promise', {
      method: 'POST',
      body: {
        orderId: props.orderId ?? null,
        lines: whole.value.map(({ itemId, quantity, unit }) => ({ itemId, quantity, unit })),
      },
    }),
  )
  if (told) {
    answer.value = told
  }
}
watchDebounced(() => JSON.stringify(whole.value), ask, { debounce: 250, immediate: true })
const isLate = (on: string | null): boolean => on === null || (props.dueOn !== '' && on > props.dueOn)
const toggle = (at: number): void => {
  const next = new Set(opened.value)
  if (!next.delete(at)) {
    next.add(at)
  }
  opened.value = next
}
const placeIn = (line: PromiseLine): number => props.lines.findIndex((one) => one.itemId === line.itemId)
const mayBuild = (line: PromiseLine): boolean => line.missing !== '0' && ['made', 'kit'].includes(line.source)
defineExpose({ ask })
</script>

<template>
  <UiSheet v-if="answer" title="When it can be there" flush :class="busy && 'opacity-70'">
    <div class="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2" data-test="promise">
      <p v-if="answer.on === null" class="font-semibold text-brick">Not all of it can be promised.</p>
      <p v-else :class="isLate(answer.on) && 'text-brick'">
        <b class="font-semibold">All of it on {{ day(answer.on) }}</b
        ><span v-if="dueOn && answer.on > dueOn">, after it is due on {{ day(dueOn) }}</span
        ><span v-else-if="dueOn" class="text-soft">, in time for {{ day(dueOn) }}</span>
      </p>
      <UiButton v-if="answer.on && isLate(answer.on) && swaps" small @click="emit('use', answer.on)"
        >Make that the due date</UiButton
      >
      <p class="ml-auto text-fine text-soft">Nothing that others have been promised is taken away.</p>
    </div>
    <div v-for="(line, at) in answer.lines" :key="at" class="border-b border-line/60 px-4 py-2 last:border-0">
      <div class="flex flex-wrap items-center gap-3">
        <button
          type="button"
          class="flex min-w-0 flex-1 items-center gap-2 text-left"
          :aria-expanded="opened.has(at)"
          @click="toggle(at)"
        >
          <GoodsBlock
            :state="
              line.on === null
                ? 'missing'
                : line.missing === '0'
                  ? 'on hand'
                  : mayBuild(line)
                    ? 'making planned'
                    : 'coming planned'
            "
            class="h-3.5 w-6 shrink-0"
          />
          <b class="font-semibold">{{ line.code }}</b><span v-if="line.kind !== 'stocked'" class="text-soft"
            >a service</span
          ><span v-else-if="line.on === null" class="text-brick">no way to get it</span
          ><span v-else :class="isLate(line.on) && 'text-brick'">{{ day(line.on) }}</span>
          <span v-if="!opened.has(at)" class="truncate text-fine text-soft">{{
            line.ways
              .slice(0, 2)
              .map((way) => way.text)
              .join(' ')
          }}</span>
          <span class="text-fine text-soft underline">why</span>
        </button>
        <template v-if="line.missing !== '0'"
          ><span
            v-for="other in line.substitutes.filter((one) => !one.free.startsWith('0 '))"
            :key="other.itemId"
            class="text-fine"
            ><UiItemChip :id="other.itemId" :code="other.code" /> {{ other.free }} free
            <UiButton
              v-if="swaps"
              small
              @click="emit('swap', placeIn(line), { id: other.itemId, code: other.code, name: other.name })"
              >Take it instead</UiButton
            ></span
          ></template
        >
        <slot name="act" :line="line" :at="at" />
      </div>
      <div v-if="opened.has(at)" class="mt-2 pl-8" data-test="why-day">
        <DemandWays :ways="line.ways" />
        <p v-if="line.sites.length" class="mt-1 text-fine text-soft">
          Free by site: {{ line.sites.map((one) => `${one.site} ${one.free}`).join(' · ') }}
        </p>
        <p v-for="other in line.substitutes" :key="other.itemId" class="text-fine text-soft">
          {{ other.code }} {{ other.name }} may stand in<template v-if="other.per !== '1'"
            >, {{ other.per }} for one</template
          >: {{ other.free }} free
        </p>
      </div>
    </div>
  </UiSheet>
</template>
