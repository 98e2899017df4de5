<script setup lang="ts">
import type { Arrival } from '~~/shared/purchasing/arrivals'

/** What is to arrive, on a calendar of weeks; what is late stands first. */
const session = useSession()
const { day, longDay, digits } = usePrint()
const { data, error } = await useFetch('/api/purchasing/arrivals')
const calendar = computed(() => arrivalWeeks(data.value ?? [], session.today))
/** A column for the weekend only where something arrives on it. */
const WORKED = 5
const shownDays = computed(() =>
  calendar.value.weeks.some((week) => week.days.slice(WORKED).some((each) => each.arrivals.length > 0)) ? 7 : WORKED,
)
const sayLines = (arrival: Arrival): string =>
  arrival.lines.map((line) => `${digits(line.quantity)} ${line.symbol} ${line.code}`).join(', ')
</script>

<template>
  <UiProblem v-if="error" :text="problemOf(error).detail" />
  <UiSheet v-else-if="!data?.length"
    ><UiEmptyState title="Nothing is to arrive" summary="Open purchase orders and transfers stand here on their days."
  /></UiSheet>
  <div v-else class="grid gap-3">
    <section
      v-if="calendar.late.length"
      class="rounded-md border border-brick bg-sheet"
      aria-labelledby="late-arrivals"
    >
      <h2 id="late-arrivals" class="flex items-center gap-2 border-b border-line px-4 py-2 font-semibold text-brick">
        <GoodsBlock state="missing" class="h-4 w-7" />Late <span class="font-normal">{{ calendar.late.length }}</span>
      </h2>
      <ul>
        <li
          v-for="arrival in calendar.late"
          :key="`${arrival.document} ${arrival.day}`"
          class="grid grid-cols-[4.5rem_1fr] gap-x-3 border-b border-line/60 px-4 py-1.5 last:border-0"
        >
          <span class="font-semibold text-brick">{{ day(arrival.day) }}</span>
          <span class="min-w-0"
            ><NuxtLink :to="arrival.link" class="font-medium hover:underline"
              >{{ arrival.number }} {{ arrival.from }}</NuxtLink
            >
            <span class="ml-2 text-soft">{{ sayLines(arrival) }}</span></span
          >
        </li>
      </ul>
    </section>
    <UiSheet flush>
      <ol aria-label="Arrivals by week">
        <li
          v-for="week in calendar.weeks"
          :key="week.first"
          class="grid border-b border-line last:border-0 sm:grid-cols-[5.5rem_repeat(var(--days),minmax(0,1fr))]"
          :style="{ '--days': shownDays }"
        >
          <span class="bg-wash/50 px-3 py-2 font-semibold">{{ day(week.first) }}</span>
          <div
            v-for="each in week.days.slice(0, shownDays)"
            :key="each.day"
            class="min-h-16 border-line/60 px-2 py-1.5 sm:border-l"
            :class="[
              each.day < session.today && 'bg-paper',
              each.arrivals.length === 0 && 'max-sm:hidden',
              each.day === session.today && 'bg-maple/10',
            ]"
          >
            <span class="block text-fine" :class="each.day === session.today ? 'font-semibold' : 'text-soft'">{{
              longDay(each.day)
            }}</span>
            <div v-for="arrival in each.arrivals" :key="arrival.document" class="mt-1 flex gap-1.5">
              <GoodsBlock state="coming" class="mt-1 h-3 w-2 shrink-0 border" />
              <span class="min-w-0 leading-tight"
                ><NuxtLink :to="arrival.link" class="block min-h-[24px] font-medium hover:underline"
                  >{{ arrival.number }} {{ arrival.from }}</NuxtLink
                ><span class="block text-fine text-soft">{{ sayLines(arrival) }}</span></span
              >
            </div>
          </div>
        </li>
      </ol>
      <p v-if="calendar.later.length" class="px-4 py-2 text-soft">
        and {{ calendar.later.length }} more than a year ahead
      </p>
    </UiSheet>
  </div>
</template>
