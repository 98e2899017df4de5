<script setup lang="ts">
import { VueDatePicker } from '@vuepic/vue-datepicker'
import '@vuepic/vue-datepicker/dist/main.css'
import { isIsoDate } from '~~/core/calendar/days'

/** The month around a day; a click or Enter chooses one. Weeks begin on Monday, with their numbers by ISO 8601. */
const value = defineModel<string>({ required: true })
const session = useSession()
const { longDay } = usePrint()
const shown = computed(() => (isIsoDate(value.value) ? value.value : null))
/** Midnight of a day by the clock of this browser, as the calendar counts. */
const dateOf = (iso: string): Date => new Date(`${iso}T00:00:00`)
const isoOf = (date: Date): string =>
  [date.getFullYear(), date.getMonth() + 1, date.getDate()].map((part) => String(part).padStart(2, '0')).join('-')
</script>

<template>
  <VueDatePicker
    class="calendar"
    inline
    auto-apply
    :model-value="shown"
    model-type="yyyy-MM-dd"
    :start-date="dateOf(shown ?? session.today)"
    :time-config="{ enableTimePicker: false }"
    :week-start="1"
    :week-numbers="{ type: 'iso' }"
    no-today
    :highlight="{ dates: [dateOf(session.today)] }"
    :transitions="false"
    :aria-labels="{ day: (day: { value: Date }) => longDay(isoOf(day.value)) }"
    @update:model-value="value = String($event ?? '')"
  />
</template>
