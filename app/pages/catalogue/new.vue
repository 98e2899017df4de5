<script setup lang="ts">
const references = useReferences()
const notices = useNotices()
const form = ref(formOf(null, references.groups[0]?.id ?? null))
const { busy, detail, fields, run } = useAct()

useHead({ title: 'New item · Tsumiki' })

async function save(): Promise<void> {
  const made = await run(() => $fetch('/api/catalogue/items', { method: 'POST', body: bodyOf(form.value) }))
  if (!made) return
  notices.say({ kind: 'done', text: `${form.value.code} is in the catalogue.` })
  await navigateTo(`/catalogue/${made.id}`)
}
</script>

<template>
  <form @submit.prevent="save">
    <UiHead title="New item" says="What is missing on the way (a group, a supplier) is added from here."><UiButton @click="navigateTo('/catalogue')">Leave it</UiButton><UiButton primary type="submit" :busy="busy">Add the item</UiButton></UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <UiSheet><CatalogueItemForm v-model="form" :fields="fields" /></UiSheet>
  </form>
</template>
