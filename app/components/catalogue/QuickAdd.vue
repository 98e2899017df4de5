<script setup lang="ts">
import type { ListKind } from '~/composables/catalogue/definition-form'
import { DEFINITION_FORMS } from '~/composables/catalogue/definition-forms'
import { definitionOf } from '~/composables/catalogue/definition-values'

const props = defineProps<{ kind: ListKind }>()
const emit = defineEmits<{ done: [id: number]; close: [] }>()
const references = useReferences()
const about = DEFINITION_FORMS[props.kind]
const form = ref<Record<string, unknown>>({
  ...(structuredClone(about.blank) as Record<string, unknown>),
  ...(props.kind === 'bins' && { siteId: references.sites[0]?.id ?? null }),
})
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
// Whoever was typing goes on where they were.
const opener = import.meta.client ? (document.activeElement as HTMLElement | null) : null
onUnmounted(() => {
  void nextTick(() => opener?.focus())
})
const quick = about.fields.filter((field) => field.quick)

async function add(): Promise<void> {
  const made = await run(() =>
    $fetch<{ id: number }>(`/api/catalogue/definitions/${props.kind}`, {
      method: 'POST',
      body: definitionOf(props.kind, form.value),
    }),
  )
  if (!made) {
    return
  }
  await references.reload()
  emit('done', made.id)
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Add a ${about.one}`"
    :act="`Add the ${about.one}`"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="add"
  >
    <CatalogueFields v-model="form" :shown="quick" :fields="fields" />
  </UiDialog>
</template>
