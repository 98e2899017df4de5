<script setup lang="ts">
import { CloudOff, Pause, Play } from '@lucide/vue'
import { ratio, toText } from '~~/core/units/exact'
import type { BuildAnswer } from '~~/shared/workshop/answers'

definePageMeta({ layout: 'bench' })
const id = Number(useRoute().params.id)
const session = useSession()
const references = useReferences()
const { day, amount } = usePrint()
const answer = orNotFound(await useFetch(`/api/workshop/builds/${id}`))
const build = computed(() => answer.data.value as BuildAnswer)
const { kept, watch, outbox, own, left, made, isPicked, chosen, pick, leave, turnStep, record } = useBench(
  id,
  () => build.value,
  () => answer.refresh(),
)
useHead({ title: () => `${build.value.number} at the bench · Tsumiki` })
onMounted(() => void outbox.flush())

const count = ref(0)
const asking = ref(false)
const isOver = computed(() => !['draft', 'ready', 'started'].includes(build.value.status))
const toPick = computed(() => build.value.components.filter((line) => line.next !== '0'))
const bins = computed(() =>
  references.bins.filter((bin) => bin.siteId === build.value.siteId && !bin.closedToReceiving),
)
const binId = ref(usualBin(bins.value))
async function send(): Promise<void> {
  const given = count.value
  asking.value = false
  count.value = 0
  await record(given, binId.value)
}
const BIG = 'rounded-block border-2 border-line hover:bg-wash'
</script>

<template>
  <div class="flex min-h-full flex-col">
    <header class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-sheet px-5 py-3">
      <NuxtLink :to="`/workshop/builds/${build.id}`" class="rounded-block border border-line px-3 py-2 hover:bg-wash"
        >Back to the job</NuxtLink
      >
      <h1 class="min-w-0 flex-1 text-xl font-semibold sm:truncate">
        {{ build.number }} · {{ build.code }} <span class="font-normal text-soft">{{ build.name }}</span>
      </h1>
      <span
        v-if="outbox.isCut.value"
        role="status"
        class="flex items-center gap-2 rounded-block border border-brick px-3 py-1.5 font-medium text-brick"
        ><CloudOff class="size-5" />No connection. Go on working; {{ own.length }}
        {{ plural(own.length, 'act waits', 'acts wait') }}.</span
      >
      <span v-else-if="own.some((entry) => !entry.refused)" role="status" class="text-soft">Recording …</span>
      <span class="text-soft">due {{ day(build.dueOn) }}</span>
    </header>
    <div
      v-for="entry in own.filter((o) => o.refused)"
      :key="entry.key"
      role="alert"
      class="flex items-center gap-3 border-b border-brick bg-sheet px-5 py-2 text-brick"
    >
      <span class="flex-1"
        ><b class="font-semibold">{{ entry.summary }} was not recorded.</b> {{ entry.refused }}</span
      ><UiButton
        @click="
          () => {
            outbox.drop(entry.key)
            answer.refresh()
          }
        "
        >Take it out</UiButton
      >
    </div>
    <div class="grid flex-1 grid-cols-1 md:grid-cols-[minmax(0,1fr)_24rem] items-start gap-4 p-4">
      <WorkshopBenchSteps :steps="build.steps" :done="kept.steps" :revision="build.revision" @turn="turnStep" />
      <WorkshopBenchPick :lines="toPick" :is-picked="isPicked" :chosen="chosen" @pick="pick" @leave="leave" />
    </div>
    <footer
      class="sticky bottom-0 flex flex-wrap items-center gap-x-5 gap-y-2 border-t border-line bg-sheet px-5 py-3 max-sm:gap-x-2 max-sm:px-3"
    >
      <button
        type="button"
        class="grid size-14 place-items-center"
        :class="BIG"
        :aria-label="watch.runs.value ? 'Stop the watch' : 'Start the watch'"
        @click="watch.toggle()"
      >
        <Pause v-if="watch.runs.value" class="size-6" /><Play v-else class="size-6" />
      </button>
      <span
        class="text-3xl font-semibold tabular-nums"
        :class="watch.runs.value ? '' : 'text-soft'"
        data-test="watch"
        >{{ watch.shown.value }}</span
      >
      <span class="flex-1 text-center text-lg"
        ><b class="text-3xl font-semibold tabular-nums" data-test="bench-made">{{ amount(made, 4) }}</b> of
        {{ amount(build.quantity, 4) }} {{ build.symbol }} made</span
      >
      <template v-if="session.allows('make') && !isOver">
        <span class="flex items-center gap-2 max-sm:gap-1.5">
          <button
            type="button"
            class="size-14 text-2xl"
            :class="BIG"
            aria-label="One less"
            @click="count = Math.max(0, count - 1)"
          >
            −
          </button>
          <input
            v-model.number="count"
            type="number"
            min="0"
            inputmode="numeric"
            aria-label="Made now"
            class="h-14 w-20 rounded-block border-2 max-sm:w-14 border-line bg-sheet text-center text-3xl font-semibold tabular-nums"
          />
          <button type="button" class="size-14 text-2xl" :class="BIG" aria-label="One more" @click="count++">+</button>
          <button type="button" class="h-14 px-3 text-lg max-sm:px-2" :class="BIG" @click="count = Number(left)">
            all {{ amount(left, 4) }}
          </button>
        </span>
        <button
          type="button"
          class="h-14 rounded-block border-2 border-maple bg-maple-face px-6 text-lg font-semibold text-[#2a2520] max-sm:flex-1 max-sm:px-2 hover:bg-maple disabled:opacity-50"
          :disabled="!(count > 0)"
          @click="asking = true"
        >
          Record {{ count > 0 ? count : '' }}
        </button>
      </template>
      <b v-else-if="isOver" class="text-lg font-semibold">{{ build.status }}</b>
    </footer>
    <UiDialog
      v-model="asking"
      records
      :title="`Record ${count} ${build.symbol} ${build.code}?`"
      :act="`Record ${count}`"
      @act="send"
    >
      <p class="text-lg">
        Made: {{ amount(made, 4) }} →
        <b class="font-semibold">{{ amount(toText(ratio(made).add(ratio(String(count || 0)))), 4) }}</b> of
        {{ amount(build.quantity, 4) }} {{ build.symbol
        }}<template v-if="watch.seconds.value > 0">, {{ watch.minutes.value }} minutes</template>.
      </p>
      <p class="mt-2 text-soft">
        Components are taken by the bill, from the lots that you scanned, else in the picking order. More, less or
        spoiled goods are recorded on the job’s page.
      </p>
      <UiChoice
        v-model="binId"
        class="mt-3 w-64"
        label="Into"
        :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
      />
    </UiDialog>
  </div>
</template>
