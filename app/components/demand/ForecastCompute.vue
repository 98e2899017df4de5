<script setup lang="ts">
import { METHOD_SAYS, METHODS, type MethodName } from '~~/core/forecasting'

export interface Choice {
  which: 'chosen' | 'all' | 'group' | 'sold'
  groupId: number | null
  method: MethodName | 'best' | 'own'
  over: boolean
}
defineProps<{ chosen: number; there: number; busy: boolean; done: number; total: number; detail: string }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ act: [choice: Choice]; stop: [] }>()
const references = useReferences()
const form = reactive<Choice>({ which: 'sold', groupId: null, method: 'own', over: false })
</script>

<template>
  <UiDialog
    v-model="open"
    title="Compute from past sales"
    act="Compute"
    :busy="busy"
    :problem="detail"
    @act="emit('act', { ...form })"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiChoice
        v-model="form.which"
        label="For"
        :options="[
          { value: 'sold', name: 'everything that was sold' },
          ...(there > 0 ? [{ value: 'all', name: `all ${there} in this forecast` }] : []),
          ...(chosen > 0
            ? [{ value: 'chosen', name: chosen === 1 ? 'the chosen row' : `the ${chosen} chosen rows` }]
            : []),
          { value: 'group', name: 'a group' },
        ]"
      />
      <UiChoice
        v-if="form.which === 'group'"
        v-model="form.groupId"
        label="Group"
        empty="Choose a group"
        :options="references.groupChoices"
      />
      <UiChoice
        v-model="form.method"
        label="Method"
        :options="[
          { value: 'own', name: 'each item’s own, else the best by test' },
          { value: 'best', name: 'the best by test for all' },
          ...METHODS.map((name) => ({ value: name, name: `${name}: ${METHOD_SAYS[name]}` })),
        ]"
      />
      <UiCheckField v-model="form.over" label="Replace what was typed over, too" />
    </div>
    <p class="mt-3 text-fine text-soft">
      The best by test: every method forecasts the last periods again from what came before them, and the one that was
      least off is taken. What you typed over stays and shows what was computed beside it.
    </p>
    <UiProgress
      v-if="busy && total > 0"
      class="mt-3"
      label="How many items are forecast"
      :value="done"
      :most="total"
      :told="`${done} of ${total} items`"
      can-stop
      @stop="emit('stop')"
    />
  </UiDialog>
</template>
