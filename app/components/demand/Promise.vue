<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { watchDebounced } from '@vueuse/core'
import type { PromiseAnswer, PromiseLine } from '~~/shared/demand/requests'

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
const emit = defineEmits<{ swap: [at: number, item: ItemName]; use: [day: string] }>()
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
  const promised = await run(() =>
    $fetch<PromiseAnswer>('/api/demand/promise', {
      method: 'POST',
      body: {
        orderId: props.orderId ?? null,
        lines: whole.value.map(({ itemId, quantity, unit }) => ({ itemId, quantity, unit })),
      },
    }),
  )
  if (promised) {
    answer.value = promised
  }
}
watchDebounced(() => JSON.stringify(whole.value), ask, { debounce: 250, immediate: true })
const isLate = (day: string | null): boolean => day === null || (props.dueOn !== '' && day > props.dueOn)
const toggle = (index: number): void => {
  const next = new Set(opened.value)
  if (!next.delete(index)) {
    next.add(index)
  }
  opened.value = next
}
const placeIn = (line: PromiseLine): number => props.lines.findIndex((entry) => entry.itemId === line.itemId)
const mayBuild = (line: PromiseLine): boolean => line.missing !== '0' && ['made', 'kit'].includes(line.source)
defineExpose({ ask })
</script>

<template>
  <UiSheet v-if="answer" title="When it can be there" flush :class="busy && 'is-loading'" :aria-busy="busy">
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
    <div v-for="(line, index) in answer.lines" :key="index" class="border-b border-line/60 px-4 py-2 last:border-0">
      <div class="flex flex-wrap items-center gap-3">
        <button
          type="button"
          class="flex min-w-0 flex-1 items-center gap-2 text-left max-sm:flex-wrap"
          :aria-expanded="opened.has(index)"
          @click="toggle(index)"
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
          <span v-if="!opened.has(index)" class="text-fine text-soft max-sm:basis-full sm:truncate">{{
            line.options
              .slice(0, 2)
              .map((option) => option.text)
              .join(' ')
          }}</span>
          <span class="text-fine text-soft underline">why</span>
        </button>
        <template v-if="line.missing !== '0'"
          ><span
            v-for="substitute in line.substitutes.filter((substitute) => !substitute.free.startsWith('0 '))"
            :key="substitute.itemId"
            class="text-fine"
            ><UiItemChip :id="substitute.itemId" :code="substitute.code" /> {{ substitute.free }} free
            <UiButton
              v-if="swaps"
              small
              @click="
                emit('swap', placeIn(line), { id: substitute.itemId, code: substitute.code, name: substitute.name })
              "
              >Take it instead</UiButton
            ></span
          ></template
        >
        <slot name="act" :line="line" :at="index" />
      </div>
      <div v-if="opened.has(index)" class="mt-2 pl-8" data-test="why-day">
        <DemandSupplyOptions :options="line.options" />
        <p v-if="line.sites.length" class="mt-1 text-fine text-soft">
          Free by site: {{ line.sites.map((site) => `${site.site} ${site.free}`).join(' · ') }}
        </p>
        <p v-for="substitute in line.substitutes" :key="substitute.itemId" class="text-fine text-soft">
          {{ substitute.code }} {{ substitute.name }} may stand in<template v-if="substitute.per !== '1'"
            >, {{ substitute.per }} for one</template
          >: {{ substitute.free }} free
        </p>
      </div>
    </div>
  </UiSheet>
</template>
