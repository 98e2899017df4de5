<script setup lang="ts">
import { toDay, toIso, weekday } from '~~/core/calendar/days'

const props = defineProps<{ weekdays: readonly boolean[]; disabled?: boolean }>()
const closed = defineModel<{ day: string; note: string }[]>({ required: true })
const session = useSession()
/** The sheet begins with this month: what lies ahead is what is planned with. Counted in months since year nought. */
const start = ref(Number(session.today.slice(0, 4)) * 12 + Number(session.today.slice(5, 7)) - 1)
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const notes = computed(() => new Map(closed.value.map((entry) => [entry.day, entry.note])))
const months = computed(() =>
  Array.from({ length: 12 }, (_, index) => {
    const [year, month] = [Math.floor((start.value + index) / 12), (start.value + index) % 12]
    const first = toDay(`${year}-${String(month + 1).padStart(2, '0')}-01`)
    const name = `${MONTHS[month]!} ${year}`
    return {
      name,
      lead: weekday(first),
      days: Array.from({ length: new Date(Date.UTC(year, month + 1, 0)).getUTCDate() }, (_, i) => ({
        number: i + 1,
        iso: toIso(first + i),
        works: props.weekdays[weekday(first + i)] === true,
      })),
    }
  }),
)
const working = computed(
  () => months.value.flatMap((month) => month.days).filter((day) => day.works && !notes.value.has(day.iso)).length,
)
function turn(iso: string): void {
  if (props.disabled) {
    return
  }
  closed.value = notes.value.has(iso)
    ? closed.value.filter((entry) => entry.day !== iso)
    : [...closed.value, { day: iso, note: '' }].sort((a, b) => (a.day < b.day ? -1 : 1))
}
const stateOf = (day: { iso: string; works: boolean }): string => {
  if (notes.value.has(day.iso)) {
    return `closed ${notes.value.get(day.iso)!}`.trim()
  }
  if (day.works) {
    return 'worked'
  }
  return 'not a working weekday'
}
</script>

<template>
  <div>
    <div class="mb-2 flex items-center gap-3">
      <UiButton small aria-label="Three months back" @click="start -= 3">‹</UiButton
      ><b class="font-semibold">{{ months[0]!.name }} – {{ months[11]!.name }}</b
      ><UiButton small aria-label="Three months on" @click="start += 3">›</UiButton>
      <span class="text-soft">{{ working }} working days. A click closes or opens a day.</span>
    </div>
    <div class="grid grid-cols-1 sm:grid-cols-2 md:grid-cols-3 gap-x-6 gap-y-3">
      <div v-for="month in months" :key="month.name">
        <h4 class="text-fine font-medium text-soft">{{ month.name }}</h4>
        <div class="grid grid-cols-7 gap-px">
          <span v-for="lead in month.lead" :key="`lead-${lead}`" />
          <button
            v-for="day in month.days"
            :key="day.iso"
            type="button"
            class="h-[24px] min-w-[24px] rounded-[2px] text-[0.75rem] leading-[24px]"
            :disabled="disabled"
            :title="notes.get(day.iso) || undefined"
            :aria-label="`${day.number} ${month.name}, ${stateOf(day)}`"
            :aria-pressed="notes.has(day.iso)"
            :class="[
              notes.has(day.iso)
                ? 'closed-day font-semibold'
                : day.works
                  ? 'bg-maple-face text-[#2a2520] hover:bg-maple'
                  : 'text-soft hover:bg-wash',
              day.iso === session.today && 'outline-2 outline-ink',
            ]"
            @click="turn(day.iso)"
          >
            {{ day.number }}
          </button>
        </div>
      </div>
    </div>
  </div>
</template>
