<script setup lang="ts">
import { unpackLines } from '~~/shared/planning/plan-lines'
import type { PlanEdit, WhatIfEdit } from '~~/shared/planning/requests'
import type { Tried } from '~/workers/plan'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const { data: plan, refresh } = orNotFound(await useFetch(() => `/api/planning/plans/${id.value}`))
const tab = ref('board')
const { busy, detail, fields, run } = useAct()
useHead({ title: () => `${plan.value?.name} · Tsumiki` })

const proposed = computed(() => plan.value?.orders.filter((order) => order.state !== 'released').length ?? 0)
const tabs = computed(() => [
  { key: 'board', name: 'Plan board' },
  { key: 'orders', name: 'Planned orders', count: proposed.value },
  { key: 'messages', name: 'Messages', count: plan.value?.messages.length },
  ...(session.allows('costs') ? [{ key: 'spend', name: 'Spend' }] : []),
  { key: 'what if', name: 'What if', count: changes.value.length || undefined },
])
useKeys([
  {
    key: 'b',
    summary: 'plan board',
    act: () => {
      tab.value = 'board'
    },
  },
  {
    key: 'o',
    summary: 'planned orders',
    act: () => {
      tab.value = 'orders'
    },
  },
  {
    key: 'm',
    summary: 'messages',
    act: () => {
      tab.value = 'messages'
    },
  },
  {
    key: 'w',
    summary: 'what if',
    act: () => {
      tab.value = 'what if'
    },
  },
])

// What is tried out is computed beside the page, and shown on the board at once.
const changes = ref<WhatIfEdit[]>([])
const tried = shallowRef<Tried | null>(null)
const isDirty = computed(() => JSON.stringify(changes.value) !== JSON.stringify(plan.value?.changes ?? []))
watch(
  plan,
  (now) => {
    changes.value = [...(now?.changes ?? [])]
    tried.value = null
  },
  { immediate: true },
)
const live = useLivePlan(
  () => ({ id: id.value, version: plan.value?.version ?? 0, kept: plan.value?.changes ?? [] }),
  () => plan.value?.among ?? null,
)
const trouble = ref('')
watch(tab, (now) => {
  if (now === 'what if' && plan.value?.run.hasResult) {
    live.warmUp()
  }
})
watch(changes, async (now) => {
  if (!isDirty.value) {
    tried.value = null
    return
  }
  trouble.value = ''
  try {
    const answer = await live.tryChanges(now)
    if (now === changes.value) {
      tried.value = answer
    }
  } catch (error) {
    if (now === changes.value) {
      trouble.value = `What is tried out could not be computed: ${(error as Error).message}`
    }
  }
})
const nodes = computed(() => (plan.value ? unpackLines(plan.value.lines) : []))
const board = computed(() => {
  if (!plan.value) {
    return null
  }
  if (!tried.value) {
    return { ...plan.value, nodes: nodes.value }
  }
  const instead = new Map(unpackLines(tried.value.lines).map((node) => [node.id, node]))
  return {
    ...plan.value,
    nodes: nodes.value.map((node) => instead.get(node.id) ?? node),
    // What is kept says nothing of a node that is tried out differently.
    orders: plan.value.orders.filter((order) => !instead.has(order.node)),
    messages: plan.value.messages.filter((message) => !instead.has(message.node)),
  }
})
const codes = computed(() =>
  Object.fromEntries(Object.values(plan.value?.items ?? {}).map((item) => [item.itemId, item.code])),
)

const editing = ref(false)
const form = ref<Omit<PlanEdit, 'key' | 'version' | 'changes'> | null>(null)
const settings = (): Omit<PlanEdit, 'key' | 'version' | 'changes'> => {
  const { name, note, endsOn, forecastFalls, demandRule, forecastIds, scope } = JSON.parse(JSON.stringify(plan.value))
  return { name, note, endsOn, forecastFalls, demandRule, forecastIds, scope }
}
function edit(): void {
  form.value = settings()
  editing.value = true
}
async function save(what: object, sentence: string): Promise<void> {
  if (
    !(await run((key) =>
      $fetch(`/api/planning/plans/${id.value}`, {
        method: 'PUT',
        body: { ...settings(), changes: plan.value!.changes, ...what, key, version: plan.value!.version },
      }),
    ))
  ) {
    return
  }
  editing.value = false
  notices.say({ kind: 'done', text: sentence })
  await changed()
}
async function again(path: 'run' | 'adopt', told?: string): Promise<void> {
  const done = await run(() =>
    path === 'run'
      ? $fetch(`/api/planning/plans/${id.value}/run`, { method: 'POST' })
      : $fetch(`/api/planning/plans/${id.value}/adopt`, { method: 'POST' }),
  )
  if (!done) {
    return
  }
  const sentence =
    path === 'run'
      ? 'Computed anew on what is there now.'
      : `This is the working plan now, computed on what is there today.${'dropped' in done && Number(done.dropped) > 0 ? ' What was only tried out is taken out.' : ''}`
  pending.value = told ?? sentence
  await changed()
  tellWhenDone()
}
async function copy(): Promise<void> {
  const made = await run((key) =>
    $fetch(`/api/planning/plans/${id.value}/copy`, {
      method: 'POST',
      body: { key, name: `${plan.value!.name}, copy`.slice(0, 80) },
    }),
  )
  if (made) {
    await navigateTo(`/planning/${made.id}`)
  }
}
// What is opened stale is computed anew; until then it shows what was, and says so.
onMounted(() => {
  const { run: last, since } = plan.value!
  if (session.allows('plan') && since.length > 0 && last.state === 'done') {
    void again('run', '')
  }
})
const pending = ref('')
/** What takes longer is told when it is there; it may be there by the time the page has read the plan again. */
function tellWhenDone(): void {
  if (pending.value && plan.value?.run.state === 'done') {
    notices.say({ kind: 'done', text: pending.value })
    pending.value = ''
  }
}
async function afterRun(): Promise<void> {
  await changed()
  tellWhenDone()
  pending.value = ''
}
async function changed(): Promise<void> {
  void refreshToday()
  await refresh()
}
</script>

<template>
  <div v-if="plan && board">
    <UiHead
      :title="plan.name"
      :summary="`${day(plan.startsOn)} to ${day(plan.shownUntil)} · ${Object.keys(plan.items).length} items move${plan.note ? ` · ${plan.note}` : ''}`"
    >
      <template #title
        >{{ plan.name }}
        <UiTag :tone="plan.kind === 'working' ? 'good' : 'plain'">{{ plan.kind }} plan</UiTag></template
      >
      <template v-if="session.allows('plan')">
        <UiButton @click="edit">Settings</UiButton>
        <UiButton :busy="busy" @click="copy">Copy</UiButton>
        <UiButton v-if="plan.kind === 'trial'" @click="again('adopt')">Make it the working plan</UiButton>
        <UiButton :busy="busy" @click="again('run')">Plan again</UiButton>
      </template>
    </UiHead>
    <UiProblem v-if="!editing" :text="detail" class="mb-3" />
    <PlanningRunning :plan-id="plan.id" :run="plan.run" @done="afterRun" />
    <template v-if="plan.run.hasResult">
      <PlanningComputed :at="plan.ranAt" :since="plan.since" />
      <PlanningFigures class="mb-3" :figures="tried?.figures ?? plan.figures" :before="tried ? plan.figures : null" />
      <UiTabs v-model="tab" :tabs="tabs" />
      <p v-if="tried && tab !== 'what if'" class="mb-2 rounded-block bg-maple/15 px-3 py-1.5 text-fine">
        {{ tab === 'board' ? 'The board shows what is tried out' : 'This shows the plan as it is kept' }}; nothing of
        that is kept yet. <button type="button" class="font-medium underline" @click="tab = 'what if'">What if</button>
      </p>
      <PlanningBoard v-if="tab === 'board'" :plan="board" :is-tried="tried !== null" @changed="changed" />
      <PlanningOrders v-else-if="tab === 'orders'" :plan="plan" @changed="changed" />
      <PlanningMessages v-else-if="tab === 'messages'" :plan="plan" @changed="changed" />
      <PlanningSpend
        v-else-if="tab === 'spend'"
        :plans="[{ name: plan.name, ...plan.figures }]"
        :near="plan.nearTiers"
      />
      <PlanningWhatIf
        v-else
        v-model="changes"
        :codes="codes"
        :dirty="isDirty"
        :busy="busy"
        :trying="live.busy.value"
        :problem="detail || trouble"
        :took="tried?.took ?? null"
        @keep="save({ changes }, 'Kept with the plan, and computed.')"
        @drop="changes = [...plan.changes]"
      />
    </template>
    <UiDialog
      v-model="editing"
      wide
      title="What the plan looks at"
      act="Save and compute"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="save(form!, 'Saved, and computed anew.')"
    >
      <Suspense v-if="form"><PlanningSettings v-model="form" :fields="fields" /></Suspense>
    </UiDialog>
  </div>
</template>
