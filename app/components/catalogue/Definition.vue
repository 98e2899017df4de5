<script setup lang="ts">
import { X } from '@lucide/vue'
import { asForm } from '~/composables/ui/as-form'
import type { ListKind } from '~/composables/catalogue/definition-form'
import { DEFINITION_FORMS } from '~/composables/catalogue/definition-forms'
import { definitionOf } from '~/composables/catalogue/definition-values'

type Fields = Record<string, unknown>
const props = defineProps<{ kind: ListKind; id: number | null; mayEdit: boolean }>()
const emit = defineEmits<{ changed: []; made: [id: number]; gone: []; close: [] }>()
const about = DEFINITION_FORMS[props.kind]
const references = useReferences()
const notices = useNotices()
const path = `/api/catalogue/definitions/${props.kind}/${props.id ?? ''}`
const loaded = props.id === null ? null : await $fetch<Fields>(path)
const form = ref<Fields>(loaded ? (asForm(loaded) as Fields) : (structuredClone(about.blank) as Fields))
const version = ref(Number(loaded?.version ?? 0))
const making = useAct()
const removing = ref(false)
const away = useAct()

const saving = useSaving(
  form,
  async (sent) => {
    const stored = await $fetch<Fields>(path, {
      method: 'PUT',
      body: { version: version.value, definition: definitionOf(props.kind, sent) },
    })
    version.value = Number(stored.version)
    emit('changed')
  },
  () => props.mayEdit && props.id !== null,
)
const fields = computed(() => (props.id === null ? making.fields.value : saving.fields.value))
const title = computed(() => (props.id === null ? `New ${about.one}` : String(form.value.name ?? form.value.code)))

async function make(): Promise<void> {
  const made = await making.run(() =>
    $fetch<{ id: number }>(`/api/catalogue/definitions/${props.kind}`, {
      method: 'POST',
      body: definitionOf(props.kind, form.value),
    }),
  )
  if (!made) {
    return
  }
  notices.say({ kind: 'done', text: `${String(form.value.name)} is added.` })
  emit('made', made.id)
}
async function reload(): Promise<void> {
  const stored = await $fetch<Fields>(path)
  version.value = Number(stored.version)
  saving.accept(asForm(stored) as Fields)
  emit('changed')
}
async function remove(): Promise<void> {
  if (!(await away.run(() => $fetch(path, { method: 'DELETE' })))) {
    return
  }
  notices.say({ kind: 'done', text: `${title.value} is taken away.` })
  emit('gone')
}
</script>

<template>
  <UiSheet class="sticky top-0">
    <form data-saves :aria-label="title" @submit.prevent="id === null ? make() : saving.commit()">
      <div class="mb-3 flex items-center justify-between gap-3">
        <h2 class="text-base font-semibold">{{ title }}</h2>
        <div class="flex items-center gap-2">
          <UiSaveState
            v-if="id !== null && mayEdit"
            :state="saving.state.value"
            :detail="saving.detail.value"
            :stale="saving.code.value === 'stale-version'"
            :undoable="saving.count.value > 0"
            @back="saving.back()"
            @reload="reload"
            @undo="undoLatest(kind, id, reload)"
          />
          <UiButton v-if="id === null" primary type="submit" :busy="making.busy.value"
            >Add the {{ about.one }}</UiButton
          >
          <button type="button" aria-label="Close" class="rounded-block p-1 hover:bg-wash" @click="emit('close')">
            <X class="size-4" />
          </button>
        </div>
      </div>
      <UiProblem
        :text="Object.keys(fields).length ? '' : id === null ? making.detail.value : saving.detail.value"
        class="mb-3"
      />
      <CatalogueFields v-model="form" :shown="about.fields" :fields="fields" :disabled="!mayEdit" />
      <div v-for="list in about.lists" :key="list.key" class="mt-4">
        <h3 class="mb-1 font-semibold">{{ list.title }}</h3>
        <p v-if="list.summary" class="mb-1 text-fine text-soft">{{ list.summary }}</p>
        <CatalogueHolidays
          v-if="kind === 'calendars' && mayEdit"
          v-model="form[list.key] as { day: string; note: string }[]"
        />
        <CatalogueYear
          v-if="kind === 'calendars'"
          v-model="form[list.key] as { day: string; note: string }[]"
          :weekdays="form.weekdays as boolean[]"
          :disabled="!mayEdit"
          class="mb-3"
        />
        <UiGrid
          v-model="form[list.key] as Fields[]"
          :label="list.title"
          :path="list.key"
          :columns="list.columns(references)"
          :fields="fields"
          :disabled="!mayEdit"
          :blank="() => ({ ...list.blank })"
          :add="list.add"
        />
      </div>
    </form>
    <template v-if="id !== null">
      <CatalogueDelivers v-if="kind === 'suppliers'" :id="id" class="mt-4" />
      <details class="mt-4 border-t border-line pt-3">
        <summary class="cursor-pointer font-semibold">Changes</summary>
        <Suspense
          ><CatalogueChanges
            :id="id"
            :kind="kind"
            :version="version"
            :may-edit="mayEdit"
            class="mt-2"
            @undone="(gone) => (gone ? emit('gone') : reload())"
        /></Suspense>
      </details>
      <UiProblem :text="away.detail.value" class="mt-3" />
      <div v-if="mayEdit" class="mt-3">
        <UiButton v-if="!removing" small @click="removing = true">Take this {{ about.one }} away</UiButton
        ><span v-else class="flex items-center gap-2"
          >It goes only if nothing uses it.
          <UiButton small :busy="away.busy.value" @click="remove">Take {{ title }} away</UiButton
          ><UiButton small @click="removing = false">Keep it</UiButton></span
        >
      </div>
    </template>
  </UiSheet>
</template>
