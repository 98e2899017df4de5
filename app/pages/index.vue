<script setup lang="ts">
import type { GoodsState } from '~/components/goods/Block.vue'

const session = useSession()
const { day, isPast } = usePrint()
const { data, error } = await useToday()
const shown = ref(new Set<string>())
const { data: changed } = useLazyFetch('/api/today/changed')

const GROUPS: readonly { area: string; name: string; state: GoodsState }[] = [
  { area: 'demand', name: 'Orders that cannot be filled', state: 'missing' },
  { area: 'planning', name: 'Planned orders to release', state: 'coming planned' },
  { area: 'purchasing', name: 'Goods due in', state: 'coming' },
  { area: 'workshop', name: 'To build and break down', state: 'making' },
  { area: 'stock', name: 'Stock to look at', state: 'held' },
  { area: 'dispatch', name: 'Ready to allocate and ship', state: 'allocated' },
]
const groups = computed(() =>
  GROUPS.map((group) => ({
    ...group,
    lines: data.value?.lines.filter((line) => line.area === group.area) ?? [],
  })).filter((group) => group.lines.length > 0),
)
const isNew = computed(() => changed.value?.isNew === true)

useHead({ title: 'Today · Tsumiki' })
</script>

<template>
  <div class="mx-auto max-w-6xl min-[1700px]:max-w-none">
    <UiHead title="Today" summary="What needs a hand now, in the order in which goods flow." />
    <BenchChangedSince v-if="changed && !isNew" :changed="changed" />
    <Suspense><BenchBackupOverdue v-if="session.allows('people') && !session.company?.fixedDay && !isNew" /></Suspense>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet v-if="isNew">
      <UiEmptyState
        title="Nothing is here yet"
        summary="Add your first item, or bring your items, bills, stock and orders from spreadsheets."
      >
        <UiButton primary @click="navigateTo('/catalogue/new')">Add the first item</UiButton>
        <UiButton v-if="session.allows('people')" @click="navigateTo('/company')">Import files</UiButton>
      </UiEmptyState>
    </UiSheet>
    <UiSheet v-else-if="changed && groups.length === 0"
      ><UiEmptyState title="All is settled" summary="Nothing is short, late, due or waiting today."
    /></UiSheet>
    <div v-else class="grid gap-3 min-[1700px]:block min-[1700px]:columns-2 min-[1700px]:gap-4">
      <section
        v-for="group in groups"
        :key="group.area"
        class="grid grid-cols-1 md:grid-cols-[13rem_1fr] overflow-hidden break-inside-avoid rounded-md border border-line bg-sheet min-[1700px]:mb-3"
      >
        <div class="flex items-start gap-3 border-r border-line bg-wash/50 px-4 py-3">
          <GoodsBlock :state="group.state" class="mt-0.5 h-4 w-7 shrink-0" />
          <h2 class="font-semibold">
            {{ group.name }} <span class="font-normal text-soft">{{ group.lines.length }}</span>
          </h2>
        </div>
        <ul>
          <li
            v-for="line in shown.has(group.area) ? group.lines : group.lines.slice(0, 4)"
            :key="line.id"
            class="grid grid-cols-[3.5rem_minmax(0,1fr)_auto] items-center gap-3 border-b border-line/60 px-3 py-1.5 last:border-0 sm:grid-cols-[4.5rem_minmax(0,1fr)_auto] sm:px-4"
          >
            <span :class="isPast(line.day) || line.urgent ? 'font-semibold text-brick' : 'text-soft'">{{
              day(line.day)
            }}</span>
            <span class="min-w-0 sm:truncate"
              ><NuxtLink :to="line.link" class="font-medium hover:underline">{{ line.title }}</NuxtLink
              >{{ ' ' }} <span class="text-soft max-sm:block max-sm:truncate sm:ml-2">{{ line.detail }}</span></span
            >
            <UiButton small @click="navigateTo(line.link)">{{ line.act }}</UiButton>
          </li>
          <li v-if="group.lines.length > 4 && !shown.has(group.area)" class="px-4 py-1.5">
            <button
              type="button"
              class="text-soft underline hover:text-ink pointer-coarse:min-h-[44px]"
              @click="shown = new Set([...shown, group.area])"
            >
              and {{ group.lines.length - 4 }} more
            </button>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>
