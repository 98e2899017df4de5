<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { PlanRun } from '~~/shared/planning/requests'

const props = defineProps<{ planId: number; run: PlanRun }>()
const emit = defineEmits<{ done: [] }>()
const session = useSession()
const now = ref(props.run)
watch(
  () => props.run,
  (run) => {
    now.value = run
  },
)
const isOpen = computed(() => now.value.state === 'waiting' || now.value.state === 'running')
const { busy, detail, run: act } = useAct()
// Asked again and again while it is computed; the page shows what there is until then.
const { pause, resume } = useIntervalFn(
  async () => {
    const run = await $fetch(`/api/planning/plans/${props.planId}/run`).catch(() => null)
    if (!run) {
      return
    }
    now.value = run
    if (!isOpen.value) {
      pause()
      emit('done')
    }
  },
  400,
  { immediate: false },
)
watch(
  isOpen,
  (open) => {
    if (open) {
      resume()
    } else {
      pause()
    }
  },
  { immediate: true },
)
async function stop(): Promise<void> {
  await act(() => $fetch(`/api/planning/plans/${props.planId}/run`, { method: 'DELETE' }))
}
</script>

<template>
  <div v-if="isOpen" class="mb-3 rounded-md border border-line bg-sheet px-4 py-3">
    <div class="flex flex-wrap items-center gap-x-4">
      <span class="min-w-56" role="status"
        >{{ now.state === 'waiting' ? 'Waits for its turn' : `Computing: ${now.phase}` }} …</span
      >
      <UiProgress
        class="flex-1"
        label="How far the plan is computed"
        :value="now.percent"
        :can-stop="session.allows('plan')"
        :busy="busy"
        @stop="stop"
      />
    </div>
    <p class="text-fine text-soft">
      {{
        now.hasResult
          ? 'Until then this page shows what was computed before, with the settings that it was computed with.'
          : 'The plan is shown as soon as it is there.'
      }}
    </p>
    <UiProblem :text="detail" />
  </div>
  <UiProblem v-else-if="now.state === 'failed'" :text="now.problem" class="mb-3" />
  <p v-else-if="now.state === 'cancelled'" class="mb-3 rounded-block bg-maple/15 px-3 py-1.5 text-fine">
    Computing was stopped.
    {{
      now.hasResult
        ? 'What you see was computed before; “Plan again” computes it as things are now.'
        : 'Nothing is computed yet: “Plan again” begins anew.'
    }}
  </p>
</template>
