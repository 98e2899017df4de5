<script setup lang="ts">
import {
  ACCEPTANCE_LIMITS,
  CHARACTERISTIC_KINDS,
  INSPECTION_LEVELS,
  SEVERITIES,
  type SampleRule,
} from '~~/core/inspection'
import type { InspectionPlanRow } from '~~/shared/inspection/answers'
import type { GridColumn } from '~/composables/ui/use-grid-paste'

/** A plan is written, changed or put out of use. */
const props = defineProps<{ plan: InspectionPlanRow | null }>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })

const form = reactive({
  code: props.plan?.code ?? '',
  name: props.plan?.name ?? '',
  of: subjectOf(props.plan),
  itemId: props.plan?.itemId ?? null,
  groupId: props.plan?.groupId ?? null,
  supplierId: props.plan?.supplierId ?? null,
  onReceipts: props.plan?.onReceipts ?? true,
  onBuilds: props.plan?.onBuilds ?? false,
  note: props.plan?.note ?? '',
  kind: (props.plan?.rule.kind ?? 'number') as SampleRule['kind'],
  number: props.plan?.rule.kind === 'number' ? String(props.plan.rule.number) : '5',
  percent: props.plan?.rule.kind === 'share' ? props.plan.rule.percent : '10',
  level: props.plan?.rule.kind === 'iso 2859-1' ? props.plan.rule.level : 'II',
  limit: props.plan?.rule.kind === 'iso 2859-1' ? props.plan.rule.limit : '1.0',
  severity: props.plan?.rule.kind === 'iso 2859-1' ? props.plan.rule.severity : 'normal',
})
const blank = () => ({ name: '', kind: 'measured' as string, unit: '', low: '', high: '' })
const characteristics = ref(
  props.plan?.characteristics.map((entry) => ({ ...entry, kind: entry.kind as string })) ?? [blank()],
)

function subjectOf(plan: InspectionPlanRow | null): 'item' | 'group' | 'supplier' {
  if (plan?.groupId) {
    return 'group'
  }
  return plan?.supplierId ? 'supplier' : 'item'
}
const SUBJECTS = [
  { value: 'item', name: 'one item' },
  { value: 'group', name: 'a group, with all below it' },
  { value: 'supplier', name: 'all that a supplier delivers' },
]
const RULES = [
  { value: 'all', name: 'all of it' },
  { value: 'number', name: 'a number of each lot' },
  { value: 'share', name: 'a share of each lot' },
  { value: 'iso 2859-1', name: 'by ISO 2859-1' },
]
const COLUMNS: GridColumn[] = [
  { key: 'name', name: 'Looked at', kind: 'text' },
  {
    key: 'kind',
    name: 'Recorded as',
    kind: 'choice',
    width: '9rem',
    options: CHARACTERISTIC_KINDS.map((value) => ({ value, name: value })),
  },
  { key: 'low', name: 'At least', kind: 'number', width: '6rem' },
  { key: 'high', name: 'At most', kind: 'number', width: '6rem' },
  { key: 'unit', name: 'Unit', kind: 'text', width: '5rem' },
]
const ruleOf = (): object => {
  switch (form.kind) {
    case 'number':
      return { kind: 'number', number: Number(form.number) }
    case 'share':
      return { kind: 'share', percent: form.percent.replace(',', '.') }
    case 'iso 2859-1':
      return { kind: 'iso 2859-1', level: form.level, limit: form.limit, severity: form.severity }
    default:
      return { kind: 'all' }
  }
}
async function save(): Promise<void> {
  const edit = {
    code: form.code,
    name: form.name,
    itemId: form.of === 'item' ? form.itemId : null,
    groupId: form.of === 'group' ? form.groupId : null,
    supplierId: form.of === 'supplier' ? form.supplierId : null,
    onReceipts: form.onReceipts,
    onBuilds: form.onBuilds,
    note: form.note,
    rule: ruleOf(),
    characteristics: characteristics.value,
  }
  const { plan } = props
  const done = await run((key) =>
    plan
      ? $fetch(`/api/stock/inspection-plans/${plan.id}`, { method: 'PUT', body: { ...edit, version: plan.version } })
      : $fetch<object>('/api/stock/inspection-plans', { method: 'POST', body: { ...edit, key } }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `Goods are inspected by ${form.code}${plan ? ' as it is now' : ''}.` })
    emit('done')
  }
}
async function retire(retired: boolean): Promise<void> {
  const plan = props.plan!
  const done = await run(() =>
    $fetch(`/api/stock/inspection-plans/${plan.id}/retired`, {
      method: 'PUT',
      body: { version: plan.version, retired },
    }),
  )
  if (done) {
    notices.say({
      kind: 'done',
      text: `${plan.code} is ${retired ? 'retired: nothing new is inspected by it' : 'in use again'}.`,
    })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="plan ? `Inspection plan ${plan.code}` : 'New inspection plan'"
    act="Save"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 gap-3 md:grid-cols-2">
      <UiTextField v-model="form.code" label="Code" :error="fields.code" />
      <UiTextField v-model="form.name" label="Name" :error="fields.name" />
      <UiChoice v-model="form.of" label="Of" :options="SUBJECTS" />
      <UiItemField
        v-if="form.of === 'item'"
        v-model="form.itemId"
        label="Item"
        :shown="plan?.item"
        :error="fields.itemId"
      />
      <UiChoice
        v-else-if="form.of === 'group'"
        v-model="form.groupId"
        label="Group"
        empty="Choose a group"
        :options="references.groupChoices"
        :error="fields.itemId"
      />
      <UiPartnerField v-else v-model="form.supplierId" kind="supplier" label="Supplier" :error="fields.itemId" />
      <UiChoice v-model="form.kind" label="Sample" :options="RULES" />
      <UiTextField
        v-if="form.kind === 'number'"
        v-model="form.number"
        label="How many"
        :error="fields['rule.number']"
      />
      <UiTextField
        v-else-if="form.kind === 'share'"
        v-model="form.percent"
        label="Per cent"
        :error="fields['rule.percent']"
      />
      <div v-else-if="form.kind === 'iso 2859-1'" class="grid grid-cols-3 gap-3">
        <UiChoice
          v-model="form.level"
          label="Level"
          :options="INSPECTION_LEVELS.map((value) => ({ value, name: value }))"
          :error="fields['rule.level']"
        />
        <UiChoice
          v-model="form.limit"
          label="Limit (AQL)"
          :options="ACCEPTANCE_LIMITS.map((value) => ({ value, name: value }))"
          :error="fields['rule.limit']"
        />
        <UiChoice
          v-model="form.severity"
          label="Inspection"
          :options="SEVERITIES.map((value) => ({ value, name: value }))"
        />
      </div>
      <div class="flex flex-wrap gap-x-6 md:col-span-2">
        <UiCheckField v-model="form.onReceipts" label="As goods come in" :error="fields.onReceipts" />
        <UiCheckField v-model="form.onBuilds" label="As goods are built" />
      </div>
    </div>
    <h3 class="mt-4 mb-1 font-semibold">What is looked at in each</h3>
    <UiGrid
      v-model="characteristics"
      label="What is looked at"
      path="characteristics"
      :columns="COLUMNS"
      :fields="fields"
      :blank="blank"
      add="Add a line"
    />
    <p v-if="fields.characteristics" role="alert" class="text-fine text-brick">{{ fields.characteristics }}</p>
    <UiTextField v-model="form.note" class="mt-3" label="Note for whoever inspects" :error="fields.note" />
    <p v-if="plan" class="mt-4 flex items-center gap-3">
      <UiButton small :busy="busy" @click="retire(!plan.retired)">{{
        plan.retired ? 'Use it again' : 'Retire it'
      }}</UiButton>
      <span class="text-soft">What waits already goes on by the plan as it was.</span>
    </p>
  </UiDialog>
</template>
