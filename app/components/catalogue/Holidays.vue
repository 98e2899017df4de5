<script setup lang="ts">
const closed = defineModel<{ day: string; note: string }[]>({ required: true })
const session = useSession()
const notices = useNotices()
const { busy, detail, run } = useAct()
const country = ref<string | null>(null)
const state = ref<string | null>(null)
const year = ref(session.today.slice(0, 4))
const { data: known } = useFetch('/api/catalogue/holidays/countries', {
  lazy: true,
  query: computed(() => (country.value ? { country: country.value } : {})),
})
watch(country, () => {
  state.value = null
})

function fill(days: readonly { day: string; note: string }[], from: string): void {
  const there = new Set(closed.value.map((entry) => entry.day))
  const fresh = days.filter((entry) => !there.has(entry.day))
  closed.value = [...closed.value, ...fresh].sort((a, b) => (a.day < b.day ? -1 : 1))
  notices.say({
    kind: 'done',
    text: `${fresh.length} closed days filled in from ${from}${days.length > fresh.length ? `; ${days.length - fresh.length} were there already` : ''}.`,
  })
}
async function holidays(): Promise<void> {
  const days = await run(() =>
    $fetch('/api/catalogue/holidays', {
      query: { country: country.value ?? '', state: state.value ?? '', year: year.value },
    }),
  )
  if (days) {
    fill(days, `the public holidays of ${year.value}`)
  }
}
async function file(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) {
    return
  }
  const days = await run(async () =>
    $fetch('/api/catalogue/holidays/file', { method: 'POST', body: { text: await chosen.text() } }),
  )
  if (days) {
    fill(days, chosen.name)
  }
}
</script>

<template>
  <div class="mb-3 rounded-block border border-line bg-wash p-3">
    <div class="flex flex-wrap items-end gap-2">
      <UiChoice
        v-model="country"
        label="Public holidays of"
        is-typed
        empty="Choose a country"
        class="w-48"
        :options="(known?.countries ?? []).map((c) => ({ value: c.code, name: c.name }))"
      />
      <UiChoice
        v-if="known?.states.length"
        v-model="state"
        label="in"
        empty="the whole country"
        class="w-44"
        :options="known.states.map((c) => ({ value: c.code, name: c.name }))"
      />
      <UiTextField v-model="year" label="Year" class="w-20" right />
      <UiButton :busy="busy" :disabled="!country" @click="holidays">Fill in</UiButton>
      <label class="ml-auto cursor-pointer pb-2 underline"
        >From a calendar file (.ics)<input type="file" accept=".ics,text/calendar" class="sr-only" @change="file"
      /></label>
    </div>
    <p v-if="detail" role="alert" class="mt-1 text-fine text-brick">{{ detail }}</p>
  </div>
</template>
