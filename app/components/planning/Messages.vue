<script setup lang="ts">
import type { ToldMessage } from '~~/shared/planning/answers'
const props = defineProps<{
  plan: {
    id: number
    version: number
    messages: readonly ToldMessage[]
    atRisk: readonly { id: string; label: string; itemId: number; code: string; day: string; quantity: string }[]
  }
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const sheets = useSheets()
const notices = useNotices()
const { day } = usePrint()
const kind = ref('')
const most = ref(200)
watch(kind, () => {
  most.value = 200
})
const { busy, detail, fields, run } = useAct()
const PROBLEMS = [
  'short',
  'late order',
  'late supply',
  'past due',
  'no source',
  'no BOM',
  'no conversion',
  'beyond limit',
  'loop',
  'below safety',
]
const kinds = computed(() => [...new Set(props.plan.messages.map((m) => m.code))])
// What needs somebody first, then by day.
const shown = computed(() =>
  props.plan.messages
    .filter((m) => kind.value === '' || m.code === kind.value)
    .map((m, id) => ({ ...m, id }))
    .sort(
      (a, b) => Number(PROBLEMS.includes(b.code)) - Number(PROBLEMS.includes(a.code)) || a.day.localeCompare(b.day),
    ),
)
const moving = ref<ToldMessage | null>(null)
const form = reactive({ dueOn: '' })
const asking = computed({
  get: () => moving.value !== null,
  set: (isOn) => {
    if (!isOn) {
      moving.value = null
    }
  },
})
function ask(message: ToldMessage): void {
  moving.value = message
  form.dueOn = message.day < session.today ? session.today : message.day
}
async function move(): Promise<void> {
  const { supply } = moving.value!
  const done = await run((key) =>
    $fetch(`/api/planning/plans/${props.plan.id}/supply`, {
      method: 'POST',
      body: { key, version: props.plan.version, supply: supply!.id, dueOn: form.dueOn },
    }),
  )
  if (!done) {
    return
  }
  moving.value = null
  notices.say({
    kind: 'done',
    text: `${done.number}: ${day(done.before)} → ${day(done.after)}. The plan is computed anew.`,
  })
  emit('changed')
}
</script>

<template>
  <div class="grid gap-3">
    <UiSheet v-if="plan.atRisk.length" flush>
      <h2 class="border-b border-line px-4 py-2 font-semibold">Customers who would wait</h2>
      <ul aria-label="Customers who would wait">
        <li
          v-for="risk in plan.atRisk.slice(0, 40)"
          :key="risk.id"
          class="grid grid-cols-1 md:grid-cols-[5rem_18rem_1fr] gap-3 border-b border-line/60 px-4 py-1.5 last:border-0"
        >
          <span class="text-soft">{{ day(risk.day) }}</span><span class="font-medium">{{ risk.label }}</span
          ><span><UiItemChip :id="risk.itemId" :code="risk.code" /> {{ risk.quantity }}</span>
        </li>
      </ul>
    </UiSheet>
    <UiSheet flush>
      <div v-if="kinds.length > 1" class="border-b border-line px-4 py-2">
        <UiChoice
          v-model="kind"
          label="Kind of message"
          hide-label
          class="w-56"
          :options="[
            { value: '', name: `All ${plan.messages.length} messages` },
            ...kinds.map((code) => ({ value: code, name: code })),
          ]"
        />
      </div>
      <ul aria-label="Messages">
        <li
          v-for="message in shown.slice(0, most)"
          :key="message.id"
          class="grid grid-cols-1 md:grid-cols-[5rem_8.5rem_1fr_auto] items-center gap-3 border-b border-line/60 px-4 py-1.5 last:border-0"
        >
          <span class="text-soft">{{ day(message.day) }}</span><UiTag
            class="justify-self-start"
            :tone="PROBLEMS.includes(message.code) ? 'problem' : 'plain'"
            >{{ message.code }}</UiTag
          ><button type="button" class="text-left hover:underline" @click="sheets.open(message.itemId)">
            {{ message.text }}</button
          ><UiButton
            v-if="message.supply && session.allows('plan')"
            small
            :aria-label="`Move ${message.supply.label} to ${day(message.day)}`"
            @click="ask(message)"
            >Move to {{ day(message.day) }}</UiButton
          >
        </li>
      </ul>
      <div v-if="shown.length > most" class="border-t border-line/60 px-4 py-2 text-soft">
        {{ most }} of {{ shown.length }} are listed.
        <button type="button" class="underline hover:text-ink" @click="most += 200">Show more</button>
      </div>
      <UiEmptyState
        v-if="plan.messages.length === 0"
        title="Nothing to say"
        summary="No order is late, nothing is short, nothing will expire."
      />
    </UiSheet>
    <UiDialog
      v-model="asking"
      :title="`Move ${moving?.supply?.label}?`"
      :act="`Move it to ${day(form.dueOn)}`"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="move"
    >
      <p class="mb-3">{{ moving?.text }}</p>
      <UiDateField v-model="form.dueOn" label="It comes on" :error="fields.dueOn" />
      <p class="mt-3">
        {{ day(moving?.supply?.from) }} → <b>{{ day(form.dueOn) }}</b>. Agree it with the supplier or the workshop; the
        order here takes the new day, and the plan is computed anew.
      </p>
    </UiDialog>
  </div>
</template>
