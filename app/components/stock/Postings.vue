<script setup lang="ts">
interface PostingRow {
  id: number
  label: string
  effectiveOn: string
  who: string
  reversed: boolean
  reversal: boolean
  isReversible: boolean
}
defineProps<{ postings: readonly PostingRow[] }>()
const emit = defineEmits<{ reversed: [] }>()

const { day } = usePrint()
const notices = useNotices()
const { busy, detail, run } = useAct()
const asked = ref<PostingRow | null>(null)
const open = computed({
  get: () => asked.value !== null,
  set: (shown) => {
    if (!shown) {
      asked.value = null
    }
  },
})

async function reverse(): Promise<void> {
  const act = asked.value!
  const done = await run((key) => $fetch(`/api/stock/postings/${act.id}/reverse`, { method: 'POST', body: { key } }))
  if (!done) {
    return
  }
  asked.value = null
  notices.say({ kind: 'done', text: done.label })
  void refreshToday()
  emit('reversed')
}
</script>

<template>
  <UiSheet v-if="postings.length > 0" title="What was recorded" flush>
    <ul>
      <li
        v-for="act in postings"
        :key="act.id"
        class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-2 last:border-0"
      >
        <span :class="act.reversed && 'text-soft line-through'">{{ act.label }}</span>
        <span class="flex items-center gap-3 text-fine text-soft"
          >{{ day(act.effectiveOn) }}, {{ act.who }}
          <UiButton v-if="act.isReversible && !act.reversed && !act.reversal" small @click="asked = act"
            >Reverse</UiButton
          >
          <UiTag v-else-if="act.reversed">reversed</UiTag>
        </span>
      </li>
    </ul>
    <UiDialog
      v-model="open"
      title="Reverse this by a counter-entry?"
      act="Reverse it"
      :busy="busy"
      :problem="detail"
      @act="reverse"
    >
      <p>{{ asked?.label }}</p>
      <p class="mt-2 text-soft">
        Every move is recorded the other way round, at its own value. Nothing is erased; the document is open again.
      </p>
    </UiDialog>
  </UiSheet>
</template>
