<script setup lang="ts">
import { Tab, TabGroup, TabList } from '@headlessui/vue'

/** The tabs of a page; arrows move focus and choice together. */
const props = defineProps<{ tabs: readonly { key: string; name: string; count?: number }[] }>()
const current = defineModel<string>({ required: true })
const index = computed(() =>
  Math.max(
    0,
    props.tabs.findIndex((tab) => tab.key === current.value),
  ),
)
function choose(next: number): void {
  current.value = props.tabs[next]!.key
}
</script>

<template>
  <TabGroup :selected-index="index" @change="choose">
    <TabList class="unprinted mb-3 flex flex-wrap gap-1 border-b border-line">
      <Tab
        v-for="tab in tabs"
        :key="tab.key"
        class="-mb-px border-b-2 px-3 py-1.5 font-medium pointer-coarse:min-h-[44px]"
        :class="tab.key === current ? 'border-maple text-ink' : 'border-transparent text-soft hover:text-ink'"
      >
        {{ tab.name }}<span v-if="tab.count" class="ml-1.5 text-fine text-soft">{{ tab.count }}</span>
      </Tab>
    </TabList>
  </TabGroup>
</template>
