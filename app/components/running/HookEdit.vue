<script setup lang="ts">
import type { HookRow } from '~~/shared/running/answers'
import { HOOK_EVENT_WORDS, HOOK_EVENTS, type HookEvent } from '~~/shared/running/words'

/** A web hook as it was made: its secret is shown this once. */
interface Made {
  readonly name: string
  readonly secret: string
}
const props = defineProps<{ hook: HookRow | null }>()
const emit = defineEmits<{ done: [made?: Made]; close: [] }>()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const EVENTS = HOOK_EVENTS.map((event) => ({ value: event, name: HOOK_EVENT_WORDS[event] }))
const form = ref<{ name: string; url: string; events: HookEvent[]; active: boolean }>({
  name: props.hook?.name ?? '',
  url: props.hook?.url ?? '',
  events: [...(props.hook?.events ?? HOOK_EVENTS)],
  active: props.hook?.active ?? true,
})
async function store(): Promise<void> {
  const body = { name: form.value.name, url: form.value.url, events: form.value.events }
  if (props.hook === null) {
    const made = await run(() => $fetch<{ secret: string }>('/api/running/hooks', { method: 'POST', body }))
    if (made) {
      emit('done', { name: form.value.name, secret: made.secret })
    }
    return
  }
  const { id, version } = props.hook
  const saved = await run(() =>
    $fetch<object>(`/api/running/hooks/${id}`, { method: 'PUT', body: { ...form.value, version } }),
  )
  if (saved) {
    notices.say({ kind: 'done', text: `${form.value.name} is changed.` })
    emit('done')
  }
}
async function remove(): Promise<void> {
  if (await run(() => $fetch<object>(`/api/running/hooks/${props.hook!.id}`, { method: 'DELETE' }))) {
    notices.say({ kind: 'done', text: `${form.value.name} is told nothing any more.` })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="hook ? `Change ${hook.name}` : 'Add a web hook'"
    :act="hook ? 'Save' : 'Add it'"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="store"
  >
    <div class="grid gap-3">
      <UiTextField v-model="form.name" label="Name" :error="fields.name" />
      <UiTextField v-model="form.url" label="Address" placeholder="https://shop.example/tsumiki" :error="fields.url" />
    </div>
    <RunningTicks v-model="form.events" class="mt-4" legend="Is told of" :options="EVENTS" :error="fields.events" />
    <template v-if="hook">
      <UiCheckField v-model="form.active" class="mt-4" label="Is told" />
      <p class="text-fine text-soft">What happens while it is not told is not told later.</p>
      <UiButton small class="mt-3" @click="remove">Take it away</UiButton>
    </template>
  </UiDialog>
</template>
