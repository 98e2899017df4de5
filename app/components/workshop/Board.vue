<script setup lang="ts">
import { ChevronLeft, ChevronRight } from '@lucide/vue'
import { toDay, toIso } from '~~/core/calendar/days'
import type { BoardColumn } from '~/composables/workshop/use-work-board'
import type { BoardJob } from '~~/shared/workshop/board'

/** Two weeks of the workshop: each day's jobs stacked to the height of their minutes, against the hours of the day. */
const session = useSession()
const { day, digits, longDay } = usePrint()
const site = ref<number | null>(null)
const from = ref<string | null>(null)
const { data: board, error, refresh } = await useFetch('/api/workshop/board', { query: { site, from } })
const columns = computed(() => (board.value ? boardColumns(board.value, session.today) : []))
const mayMove = computed(() => session.allows('make'))

/** The fullest day, or the room of one, is as high as this; the rest is to scale beside it. Pixels. */
const HIGHEST = 400
const LEAST_HEIGHT = 64
const ROOM_FOR_NOTHING = 120
const scale = computed(
  () => HIGHEST / Math.max(60, ...columns.value.map((column) => Math.max(column.minutes, column.room ?? 0))),
)
const bodyHeight = computed(() => {
  const highest = Math.max(
    ...columns.value.map((column) => Math.max(heightOf(column), (column.room ?? 0) * scale.value)),
  )
  return `${Math.max(ROOM_FOR_NOTHING, highest) + 24}px`
})
const heightOf = (column: BoardColumn): number =>
  column.jobs.reduce((sum, job) => sum + blockHeight(job.minutes, scale.value, LEAST_HEIGHT) + 1, 0)
const isOver = (column: BoardColumn): boolean => column.room !== null && column.minutes > column.room
function sayLoad(column: BoardColumn): string {
  if (column.day === null || column.room === null) {
    return column.minutes > 0 ? printMinutes(column.minutes) : ''
  }
  return `${printMinutes(column.minutes)} of ${printMinutes(column.room)}`
}
function turn(days: number): void {
  const next = toIso(toDay(board.value!.from) + days)
  from.value = next < session.today ? null : next
}

const moving = ref<{ job: BoardJob; day: string } | null>(null)
function ask(job: BoardJob, to: string): void {
  moving.value = { job, day: to }
}
async function moved(): Promise<void> {
  moving.value = null
  await refresh()
}

const Draggable = defineAsyncComponent(async () => (await import('vuedraggable')).default)
/** A job that was dropped on another day stays where it was until that is confirmed. */
function drop({ added }: { added?: { element: BoardJob } }, column: BoardColumn): void {
  if (added && column.day !== null && column.day !== added.element.dueOn) {
    ask(added.element, column.day)
  }
}
/** With Alt, the arrows give the job the day before or after, which is asked first like a drop. */
function onKey(event: KeyboardEvent, job: BoardJob, column: BoardColumn): void {
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (!event.altKey || !step || !mayMove.value) {
    return
  }
  event.preventDefault()
  const to = columns.value[columns.value.indexOf(column) + step]
  if (to?.day) {
    ask(job, to.day)
  }
}
const sayLeft = (job: BoardJob): string =>
  `${digits(job.left)} ${job.symbol}${job.minutes > 0 ? ` · ${printMinutes(job.minutes)}` : ''}`
const sayJob = (job: BoardJob): string =>
  [`${job.number} ${job.code} ${job.name}: ${sayLeft(job)}`, job.forWhat && `for ${job.forWhat}`]
    .filter(Boolean)
    .join(', ')
const stateOf = (job: BoardJob): string =>
  job.status === 'started' ? 'border-slate bg-slate text-sheet' : 'border-slate bg-sheet'
</script>

<template>
  <UiProblem v-if="error" :text="problemOf(error).detail" />
  <UiSheet v-else-if="board" flush>
    <div class="unprinted flex flex-wrap items-center gap-2 border-b border-line px-4 py-2">
      <UiButton aria-label="Two weeks earlier" :disabled="board.from <= session.today" @click="turn(-14)"
        ><ChevronLeft class="size-4"
      /></UiButton>
      <UiButton aria-label="Two weeks later" @click="turn(14)"><ChevronRight class="size-4" /></UiButton>
      <span class="font-medium">{{ day(board.days[0]!.day) }} to {{ day(board.days.at(-1)!.day) }}</span>
      <UiChoice
        v-if="board.sites.length > 1"
        :model-value="board.site?.id ?? null"
        label="Site"
        hide-label
        :options="board.sites.map(({ id, name }) => ({ value: id, name }))"
        @update:model-value="site = Number($event)"
      />
      <span class="flex-1" />
      <span v-if="board.later" class="text-soft">{{ board.later }} {{ plural(board.later, 'job', 'jobs') }} later</span>
      <span v-if="board.days[0]!.room === null" class="text-soft"
        >How many hours a day has is said under
        <NuxtLink to="/catalogue/lists/calendars" class="underline">Calendars</NuxtLink></span
      >
    </div>
    <ol class="flex items-stretch overflow-x-auto max-sm:flex-col" aria-label="Board of the workshop">
      <li
        v-for="column in columns"
        :key="column.day ?? 'overdue'"
        class="flex min-w-28 flex-1 flex-col border-line/60 max-sm:border-b sm:border-r sm:last:border-r-0"
        :class="!column.isWorked && 'bg-paper'"
        :aria-label="column.day === null ? 'Overdue' : longDay(column.day)"
      >
        <div class="border-b border-line px-2 py-1.5">
          <b
            class="font-semibold"
            :class="[column.day === null && 'text-brick', column.day === session.today && 'underline']"
            >{{ column.day === null ? 'Overdue' : longDay(column.day) }}</b
          >
          <span class="block min-h-[1.3em] text-fine" :class="isOver(column) ? 'font-semibold text-brick' : 'text-soft'"
            >{{ column.isWorked ? sayLoad(column) : 'closed'
            }}<template v-if="isOver(column)"
              >, {{ printMinutes(column.minutes - column.room!) }} too much</template
            ></span
          >
        </div>
        <div
          class="relative flex flex-1 flex-col justify-end p-1.5 sm:min-h-(--body)"
          :style="{ '--body': bodyHeight }"
        >
          <span
            v-if="column.room"
            aria-hidden="true"
            class="absolute inset-x-0 border-t border-dashed max-sm:hidden"
            :class="isOver(column) ? 'border-brick' : 'border-ink/40'"
            :style="{ bottom: `${column.room * scale + 6}px` }"
          />
          <Draggable
            :model-value="[...column.jobs]"
            item-key="id"
            group="jobs"
            class="relative flex flex-1 flex-col-reverse gap-px"
            :sort="false"
            :disabled="!mayMove"
            :delay="150"
            :delay-on-touch-only="true"
            @change="drop($event, column)"
          >
            <template #item="{ element: job }">
              <article
                class="flex shrink-0 flex-col overflow-hidden rounded-block border-2 px-1.5 py-0.5 leading-tight"
                :class="[stateOf(job), mayMove && 'cursor-grab']"
                :style="{ height: `${blockHeight(job.minutes, scale, LEAST_HEIGHT)}px` }"
                :title="sayJob(job)"
                @keydown="onKey($event, job, column)"
              >
                <NuxtLink
                  :to="job.link"
                  class="min-h-[24px] shrink-0 truncate font-medium hover:underline"
                  draggable="false"
                  >{{ job.code }}</NuxtLink
                >
                <button
                  v-if="mayMove"
                  type="button"
                  class="min-h-[24px] shrink-0 text-left text-fine leading-tight hover:underline"
                  :aria-label="`${sayLeft(job)}: give ${job.number} another day`"
                  @click="ask(job, job.dueOn < session.today ? session.today : job.dueOn)"
                >
                  {{ sayLeft(job) }}
                </button>
                <span v-else class="text-fine leading-tight">{{ sayLeft(job) }}</span>
              </article>
            </template>
          </Draggable>
        </div>
      </li>
    </ol>
    <UiEmptyState
      v-if="board.jobs.length === 0"
      title="Nothing to do in these two weeks"
      summary="Jobs come from a plan, or are planned by hand."
    />
    <WorkshopMoveJob
      v-if="moving"
      :key="moving.job.id"
      :job="moving.job"
      :day="moving.day"
      @close="moving = null"
      @done="moved"
    />
  </UiSheet>
</template>
