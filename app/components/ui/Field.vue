<script setup lang="ts">
/** A label, a control and the sentence that belongs to it. `warning`: the hint is something that would go wrong. */
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  hideLabel?: boolean
  hintAct?: string
  warning?: boolean
}>()
const emit = defineEmits<{ hintAct: [] }>()
const id = useId()
/** What the label's term means, where it is one of planning, cost or units. */
const help = computed(() => (props.hideLabel ? undefined : HELP_TEXTS[props.label]))
const explained = useTemplateRef('explained')
function explain(event: KeyboardEvent): void {
  if (explained.value) {
    event.preventDefault()
    explained.value.toggle()
  }
}
</script>

<template>
  <div class="grid min-w-0 content-start gap-1" @keydown.f1="explain">
    <div class="flex items-center gap-1" :class="hideLabel ? 'sr-only' : 'min-h-[24px]'">
      <label :id="`${id}-label`" :for="id" class="text-fine font-medium text-soft">{{ label }}</label>
      <UiHelp v-if="help" ref="explained" :help="help" :label-id="`${id}-label`" />
    </div>
    <slot
      :id="id"
      :label-id="`${id}-label`"
      :wrong="Boolean(error)"
      :described="error || hint ? `${id}-says` : undefined"
    />
    <p v-if="error" :id="`${id}-says`" role="alert" class="text-fine text-brick">{{ error }}</p>
    <p
      v-else-if="hint"
      :id="`${id}-says`"
      class="text-fine"
      :class="warning ? 'text-brick' : 'text-soft'"
      :role="warning ? 'status' : undefined"
    >
      {{ hint }}
      <button v-if="hintAct" type="button" class="underline hover:text-ink" @click="emit('hintAct')">
        {{ hintAct }}
      </button>
    </p>
  </div>
</template>
