<script setup lang="ts">
const props = defineProps<{ tabs: readonly { key: string; name: string; count?: number }[] }>()
const current = defineModel<string>({ required: true })
function move(step: number): void {
  const index = props.tabs.findIndex((tab) => tab.key === current.value)
  current.value = props.tabs[(index + step + props.tabs.length) % props.tabs.length]!.key
}
</script>

<template>
  <div
    role="tablist"
    class="mb-3 flex gap-1 border-b border-line"
    @keydown.right.prevent="move(1)"
    @keydown.left.prevent="move(-1)"
  >
    <button
      v-for="tab in tabs"
      :key="tab.key"
      role="tab"
      type="button"
      :aria-selected="tab.key === current"
      :tabindex="tab.key === current ? 0 : -1"
      class="-mb-px border-b-2 px-3 py-1.5 font-medium"
      :class="tab.key === current ? 'border-maple text-ink' : 'border-transparent text-soft hover:text-ink'"
      @click="current = tab.key"
    >
      {{ tab.name }}<span v-if="tab.count" class="ml-1.5 text-fine text-soft">{{ tab.count }}</span>
    </button>
  </div>
</template>
