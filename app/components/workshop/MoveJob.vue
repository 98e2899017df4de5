<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import type { BoardJob, JobMove } from '~~/shared/workshop/board'

/** Gives a job another day, and tells before what that makes late. */
const props = defineProps<{ job: BoardJob; day: string }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { day: print, digits } = usePrint()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const to = ref(props.day)
const effect = shallowRef<JobMove | null>(null)
const trouble = ref('')
watchDebounced(
  to,
  async (day) => {
    effect.value = null
    trouble.value = ''
    if (!day || day === props.job.dueOn) {
      return
    }
    try {
      const answer = await $fetch(`/api/workshop/jobs/${props.job.id}/day`, { query: { day } })
      if (day === to.value) {
        effect.value = answer
      }
    } catch (error) {
      if (day === to.value) {
        trouble.value = problemOf(error).detail
      }
    }
  },
  { debounce: 150, immediate: true },
)
const isSame = computed(() => to.value === props.job.dueOn)
async function move(): Promise<void> {
  const done = await run(() =>
    $fetch(`/api/workshop/jobs/${props.job.id}/day`, {
      method: 'PUT',
      body: { version: props.job.version, day: to.value },
    }),
  )
  if (!done) {
    return
  }
  notices.say({ kind: 'done', text: `${props.job.number} is to be done on ${print(to.value)}.` })
  void refreshToday()
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`${job.number}: ${digits(job.left)} ${job.symbol} ${job.code}`"
    :act="to && !isSame ? `Move it to ${print(to)}` : 'Move it'"
    :busy="busy"
    :disabled="isSame || !to"
    :problem="fields.day ? '' : detail"
    @act="move"
  >
    <p class="mb-3 text-soft">
      {{ job.name }}, to be done on {{ print(job.dueOn)
      }}<template v-if="job.releaseOn">, begun on {{ print(job.releaseOn) }}</template
      ><template v-if="job.forWhat">, for {{ job.forWhat }}</template>
    </p>
    <UiDateField v-model="to" label="To be done on" class="max-w-56" :error="fields.day" />
    <div class="mt-4 min-h-20" aria-live="polite">
      <UiProblem v-if="trouble" :text="trouble" />
      <p v-else-if="isSame" class="text-soft">Choose another day; what that makes late is told here first.</p>
      <p v-else-if="!effect" class="text-soft">Looking what this makes late …</p>
      <template v-else>
        <p v-if="effect.releaseOn && effect.releaseOn !== job.releaseOn">
          It is then begun on <b class="font-semibold">{{ print(effect.releaseOn) }}</b>.
        </p>
        <p v-if="effect.late.length === 0" class="mt-1">Nothing that is ordered is late because of it.</p>
        <StockServedLater v-else :rows="effect.late" />
      </template>
    </div>
  </UiDialog>
</template>
