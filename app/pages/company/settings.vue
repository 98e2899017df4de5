<script setup lang="ts">
import { printDay } from '~~/core/calendar/days'
import { grouped } from '~~/core/units/quantity'
import type { CompanySettings } from '~~/shared/company/settings'

const session = useSession()
const references = useReferences()
const notices = useNotices()
const { longDay } = usePrint()
const { data: settings, refresh } = await useFetch('/api/company/settings')
const form = reactive(formOf())
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Company settings · Tsumiki' })

const SIGNS = [
  { value: '.', name: 'a point: 0.5' },
  { value: ',', name: 'a comma: 0,5' },
]
const GROUPINGS = computed(() =>
  (['space', 'sign', 'none'] as const).map((grouping) => ({
    value: grouping,
    name: grouped('1250000.5', { decimalSign: form.decimalSign, grouping }),
  })),
)
const DATES = (['day month', 'month day', 'numbers', 'iso'] as const).map((format) => ({
  value: format,
  name: printDay(settings.value!.today, '', format),
}))
const IDLE = [
  { value: 15, name: '15 minutes' },
  { value: 60, name: '1 hour' },
  { value: 240, name: '4 hours' },
  { value: 720, name: '12 hours' },
  { value: 4320, name: '3 days' },
  { value: 10_080, name: '7 days' },
]
const LONGEST = [1, 7, 30, 90, 365].map((days) => ({ value: days, name: `${days} ${plural(days, 'day', 'days')}` }))
const ZONES = Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, name: zone.replaceAll('_', ' ') }))
const calendars = computed(() => references.calendars.map((calendar) => ({ value: calendar.id, name: calendar.name })))
const isChanged = computed(() => JSON.stringify(form) !== JSON.stringify(formOf()))

function formOf(): CompanySettings {
  const { today, serverZone, hasValue, ...own } = settings.value!
  void [today, serverZone, hasValue]
  return own
}
async function save(): Promise<void> {
  if (!(await run(() => $fetch('/api/company/settings', { method: 'PUT', body: form })))) {
    return
  }
  await Promise.all([refresh(), session.load()])
  Object.assign(form, formOf())
  notices.say({ kind: 'done', text: 'The company’s settings are saved.' })
}
</script>

<template>
  <div class="mx-auto max-w-3xl">
    <UiHead title="Company settings" summary="What counts for everybody who works here." />
    <form class="grid gap-4" @submit.prevent="save">
      <UiSheet title="Company, money and numbers">
        <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-3">
          <UiTextField
            v-model="form.name"
            class="sm:col-span-2"
            label="Name"
            hint="On orders, labels and messages."
            :error="fields.name"
          />
          <UiTextField
            v-model="form.currency"
            label="Currency"
            :disabled="settings!.hasValue"
            :hint="settings!.hasValue ? 'Stays: value is on the books in it.' : 'Three letters, for example EUR.'"
            :error="fields.currency"
          />
          <UiChoice
            v-model="form.decimalSign"
            label="Decimal sign"
            hint="How numbers are typed, and printed on screen and on paper."
            :options="SIGNS"
            :error="fields.decimalSign"
          />
          <UiChoice
            v-model="form.grouping"
            label="Large numbers"
            hint="On screen, on paper and in charts; typed, all of these are read."
            :options="GROUPINGS"
            :error="fields.grouping"
          />
          <UiChoice
            v-model="form.dateFormat"
            label="Dates"
            hint="As they are shown; the year stands where it is another."
            :options="DATES"
            :error="fields.dateFormat"
          />
        </div>
      </UiSheet>
      <UiSheet title="Days">
        <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-3">
          <UiChoice
            v-model="form.calendarId"
            label="Working calendar"
            empty="Monday to Friday"
            hint="For sites and suppliers that have none of their own: nothing is ordered or due on a closed day."
            :options="calendars"
            :error="fields.calendarId"
          />
          <UiChoice
            v-model="form.timeZone"
            label="Time zone"
            :empty="`as the server: ${settings!.serverZone}`"
            :hint="`When the day begins. Today is ${longDay(settings!.today)}${session.company?.fixedDay ? ', on which the demo stands' : ''}.`"
            :options="ZONES"
            :error="fields.timeZone"
          />
        </div>
        <p class="mt-3 text-fine text-soft">
          Calendars and closed days are kept in
          <NuxtLink to="/catalogue/lists/calendars" class="underline">the catalogue</NuxtLink>.
        </p>
      </UiSheet>
      <UiSheet title="Usual places">
        <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-3">
          <UiChoice
            v-model="form.finishedBinId"
            label="Finished goods go to"
            empty="the first bin in the order of picking"
            hint="Offered first when a build is recorded or a kit is packed."
            :options="references.bins.map((bin) => ({ value: bin.id, name: bin.name }))"
            :error="fields.finishedBinId"
          />
          <UiPartnerField
            v-model="form.webCustomerId"
            kind="customer"
            label="Orders of the web shop are for"
            empty="nobody: only buyers who are known"
            hint="Where the buyer’s e-mail address is none of your customers’."
            :error="fields.webCustomerId"
          />
        </div>
      </UiSheet>
      <UiSheet title="Signing in">
        <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-3">
          <UiChoice
            v-model="form.sessionMinutes"
            label="Without an act, sign in again after"
            hint="What was typed stays, and goes on."
            :options="IDLE"
            :error="fields.sessionMinutes"
          />
          <UiChoice
            v-model="form.sessionDays"
            label="In any case after"
            :options="LONGEST"
            :error="fields.sessionDays"
          />
        </div>
      </UiSheet>
      <UiSheet title="Purchase orders">
        <div class="grid grid-cols-1 gap-3">
          <UiTextField
            :model-value="form.approveAbove ?? ''"
            class="sm:max-w-xs"
            label="Approved before they are sent, above"
            right
            hint="Leave it blank where nobody has to approve. Who may, is set with people."
            :error="fields.approveAbove"
            @update:model-value="form.approveAbove = $event === '' ? null : $event"
          />
          <UiTextField
            v-model="form.orderLetter"
            label="Letter to the supplier"
            :lines="8"
            hint="Blank: the usual letter. Filled in: {what} {number} {ordered} {lines} {total} {changes} {company}."
            :error="fields.orderLetter"
          />
        </div>
      </UiSheet>
      <UiProblem v-if="Object.keys(fields).length === 0" :text="detail" />
      <div class="flex items-center gap-3">
        <UiButton primary type="submit" :busy="busy" :disabled="!isChanged">Save the settings</UiButton>
        <span v-if="isChanged" class="text-soft">not saved yet</span>
      </div>
    </form>
  </div>
</template>
