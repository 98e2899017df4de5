<script setup lang="ts">
const TABS = [
  { key: 'checks', name: 'Checks' },
  { key: 'work', name: 'Background work' },
  { key: 'programs', name: 'Keys and web hooks' },
] as const
const route = useRoute()
const router = useRouter()
const tab = computed({
  get: () => TABS.find(({ key }) => key === route.query.tab)?.key ?? 'checks',
  set: (key: string) => void router.replace({ query: { tab: key } }),
})
useHead({ title: 'Running · Tsumiki' })
</script>

<template>
  <div>
    <UiHead title="Running" summary="Whether everything is in order, what is done in the background, and for whom." />
    <UiTabs v-model="tab" :tabs="TABS" />
    <RunningChecks v-if="tab === 'checks'" />
    <RunningWork v-else-if="tab === 'work'" />
    <div v-else class="grid items-start gap-4">
      <RunningKeys />
      <RunningHooks />
    </div>
  </div>
</template>
