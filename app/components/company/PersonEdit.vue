<script setup lang="ts">
import { may, RIGHTS, ROLES, type Right } from '~~/shared/company/rights'
import { RIGHT_NAMES } from '~~/shared/company/words'
import type { PersonRow } from '~~/shared/company/people'

const props = defineProps<{ person: PersonRow }>()
const emit = defineEmits<{ done: []; close: [] }>()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const { name, role, active } = props.person
const form = reactive({ name, role, active, rights: [...props.person.rights] as Right[] })
const isInRole = (right: Right): boolean => may(form.role, right)
function setRight(right: Right, isSet: boolean): void {
  form.rights = isSet ? [...form.rights, right] : form.rights.filter((entry) => entry !== right)
}
async function save(): Promise<void> {
  const { id, version } = props.person
  const saved = await run(() =>
    $fetch<{ version: number }>(`/api/company/people/${id}`, { method: 'PUT', body: { ...form, version } }),
  )
  if (saved) {
    notices.say({
      kind: 'done',
      text: form.active ? `${form.name} is changed.` : `${form.name} may no longer sign in.`,
    })
    emit('done')
  }
}
async function takeFactorOff(): Promise<void> {
  if (await run(() => $fetch<object>(`/api/company/people/${props.person.id}/factor`, { method: 'DELETE' }))) {
    notices.say({ kind: 'done', text: `${form.name} signs in without a second factor until a new one is put on.` })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="person.email"
    act="Save"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiTextField v-model="form.name" label="Name" :error="fields.name" />
      <UiChoice
        v-model="form.role"
        label="Role"
        :options="ROLES.map((entry) => ({ value: entry, name: entry }))"
        :error="fields.role"
      />
    </div>
    <fieldset class="mt-4">
      <legend class="mb-1 font-semibold">May</legend>
      <div class="grid grid-cols-1 gap-x-4 sm:grid-cols-2">
        <label v-for="right in RIGHTS" :key="right" class="flex min-h-[24px] items-center gap-2 py-0.5"
          ><input
            type="checkbox"
            class="size-4 accent-[var(--maple)]"
            :checked="isInRole(right) || form.rights.includes(right)"
            :disabled="isInRole(right)"
            @change="setRight(right, ($event.target as HTMLInputElement).checked)"
          /><span :class="isInRole(right) && 'text-soft'">{{ RIGHT_NAMES[right] }}</span></label
        >
      </div>
      <p class="mt-1 text-fine text-soft">
        What the role allows is ticked for good; what else is ticked goes beyond it.
      </p>
    </fieldset>
    <UiCheckField v-model="form.active" class="mt-4" label="May sign in" />
    <p class="text-fine text-soft">
      Where something of this changes, {{ person.name }} is signed out everywhere at once. What they recorded stays.
    </p>
    <UiButton v-if="person.hasFactor" small class="mt-3" @click="takeFactorOff">Take the second factor off</UiButton>
  </UiDialog>
</template>
