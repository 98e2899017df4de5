<script setup lang="ts">
const props = defineProps<{ kind: 'group' | 'supplier' | 'customer' | 'bin' }>()
const emit = defineEmits<{ done: [id: number], close: [] }>()
const references = useReferences()
const code = ref('')
const name = ref('')
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })

async function add(): Promise<void> {
  const path = { group: '/api/catalogue/groups', supplier: '/api/catalogue/suppliers', customer: '/api/catalogue/customers', bin: '/api/catalogue/bins' } as const
  const made = await run(() => $fetch<{ id: number }>(path[props.kind], { method: 'POST', body: { code: code.value, name: name.value } }))
  if (!made) return
  await references.reload()
  emit('done', made.id)
}
</script>

<template>
  <UiConfirm v-model="open" :title="`Add a ${kind}`" :act="`Add the ${kind}`" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="add">
    <div class="grid grid-cols-2 gap-3"><FormText v-model="code" label="Code" :error="fields.code" /><FormText v-model="name" label="Name" :error="fields.name" /></div>
  </UiConfirm>
</template>
