<script setup lang="ts">
const references = useReferences()
const steps = computed(() => [
  {
    to: '/catalogue/lists/groups',
    name: 'Groups',
    summary: 'families of items, with what they have in common',
    there: references.groups.length,
  },
  {
    to: '/catalogue/lists/units',
    name: 'Units',
    summary: 'most are there; add your own',
    there: references.units.filter((unit) => unit.own).length || references.units.length,
  },
  {
    to: '/catalogue/lists/suppliers',
    name: 'Suppliers',
    summary: 'whom you buy from',
    there: references.suppliers.length,
  },
  {
    to: '/catalogue/lists/bins',
    name: 'Places',
    summary: 'the shelves where things lie',
    there: references.bins.length,
  },
  { to: '/catalogue/new', name: 'Items', summary: 'what you buy, make and sell, with packs and terms', there: 0 },
  { to: '/stock', name: 'Opening stock', summary: 'what lies there today', there: 0 },
])
</script>

<template>
  <UiSheet>
    <div class="mx-auto max-w-3xl py-6">
      <h2 class="text-base font-semibold">Set up your catalogue</h2>
      <p class="mb-4 text-soft">
        This order is the easiest, but none has to be finished before the next: whatever is missing is added from where
        you stand.
      </p>
      <ol class="grid gap-1">
        <li v-for="(step, index) in steps" :key="step.to" :style="{ marginLeft: `${index * 1.5}rem` }">
          <NuxtLink
            :to="step.to"
            class="flex items-baseline gap-3 rounded-block border-2 px-4 py-2 hover:bg-wash"
            :class="step.there ? 'border-maple bg-maple-face/40' : 'border-dashed border-line'"
          >
            <span class="text-soft">{{ index + 1 }}</span><b class="font-semibold">{{ step.name }}</b
            ><span class="text-soft">{{ step.summary }}</span
            ><span v-if="step.there" class="ml-auto text-fine">{{ step.there }} there</span>
          </NuxtLink>
        </li>
      </ol>
      <p class="mt-5">
        Or bring in what you have in spreadsheets:
        <NuxtLink to="/catalogue/files" class="underline">files in and out</NuxtLink>.
      </p>
    </div>
  </UiSheet>
</template>
