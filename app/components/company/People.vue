<script setup lang="ts">
import { ROLES, type Role } from '~~/shared/company/rights'
import type { PersonRow } from '~~/shared/company/people'
import type { DataColumn } from '~/composables/ui/data-column'

const { clock } = usePrint()
const { data: people, error, refresh } = await useFetch('/api/company/people')

const adding = ref(false)
const form = reactive({ name: '', email: '', role: 'viewer' as Role })
const inviting = useAct()
/** A link to hand over, and for whom it is; shown once. */
const made = ref<{ name: string; link: string } | null>(null)
async function invite(): Promise<void> {
  const invited = await inviting.run(() => $fetch('/api/company/people', { method: 'POST', body: form }))
  if (!invited) {
    return
  }
  adding.value = false
  made.value = { name: form.name, link: invited.link }
  Object.assign(form, { name: '', email: '', role: 'viewer' })
  await refresh()
}
const { detail, run } = useAct()
async function makeLink(person: PersonRow): Promise<void> {
  const renewed = await run(() =>
    $fetch<{ link: string }>(`/api/company/people/${person.id}/link`, { method: 'POST', body: {} }),
  )
  if (renewed) {
    made.value = { name: person.name, link: renewed.link }
    await refresh()
  }
}
const changing = ref<PersonRow | null>(null)
async function changed(): Promise<void> {
  changing.value = null
  await refresh()
}

const stateOf = (person: PersonRow): string => {
  if (!person.active) {
    return 'may not sign in'
  }
  if (!person.hasPassword) {
    return person.linkUntil ? `invited until ${clock(person.linkUntil)}` : 'invitation ran out'
  }
  return 'may sign in'
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Name', isFixed: true, width: 180 },
  { key: 'email', name: 'E-mail address' },
  { key: 'role', name: 'Role', width: 180, choices: ROLES.map((role) => ({ value: role, name: role })) },
  { key: 'state', name: 'State', width: 200, text: stateOf },
  {
    key: 'factor',
    name: 'Second factor',
    width: 120,
    phone: 'off',
    text: (person: PersonRow) => (person.hasFactor ? 'yes' : 'no'),
  },
  {
    key: 'seenAt',
    name: 'Last seen',
    width: 130,
    text: (person: PersonRow) => (person.seenAt ? clock(person.seenAt) : ''),
  },
  { key: 'go', name: '', isAct: true, width: 190 },
]
</script>

<template>
  <UiSheet title="People" flush>
    <template #head><UiButton small @click="adding = true">Invite a person</UiButton></template>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiProblem :text="detail" />
    <UiDataTable
      v-if="people"
      list="people"
      label="People"
      :columns="COLUMNS"
      :rows="people"
      :muted="(person) => !person.active"
    >
      <template #role="{ row }"
        ><UiTag>{{ row.role }}</UiTag
        ><span v-if="row.rights.length" class="ml-1.5 text-fine text-soft"
          >and {{ row.rights.length }} more</span
        ></template
      >
      <template #go="{ row }"
        ><span class="flex justify-end gap-1"
          ><UiButton small :aria-label="`Change ${row.name}`" @click="changing = row">Change</UiButton
          ><UiButton v-if="row.active" small :aria-label="`Make a link for ${row.name}`" @click="makeLink(row)"
            >Make a link</UiButton
          ></span
        ></template
      >
    </UiDataTable>
    <UiDialog
      v-model="adding"
      title="Invite a person"
      act="Invite"
      :busy="inviting.busy.value"
      :problem="Object.keys(inviting.fields.value).length ? '' : inviting.detail.value"
      @act="invite"
    >
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
        <UiTextField v-model="form.name" label="Name" :error="inviting.fields.value.name" /><UiChoice
          v-model="form.role"
          label="Role"
          :options="ROLES.map((role) => ({ value: role, name: role }))"
          :error="inviting.fields.value.role"
        /><UiTextField
          v-model="form.email"
          class="sm:col-span-2"
          label="E-mail address"
          type="email"
          :error="inviting.fields.value.email"
        />
      </div>
      <p class="mt-3 text-soft">
        They get a letter with a link by which they choose their password. You see the link too, to hand it over.
      </p>
    </UiDialog>
    <UiShownOnce
      name="link"
      :title="`A link for ${made?.name ?? ''}`"
      :secret="made?.link ?? null"
      @close="made = null"
    >
      By this link {{ made?.name }} chooses a password, once, within 24 hours. It was sent by letter too.
    </UiShownOnce>
    <CompanyPersonEdit v-if="changing" :person="changing" @done="changed" @close="changing = null" />
  </UiSheet>
</template>
