<script setup lang="ts">
import { ITEM_KINDS, ITEM_STATUSES } from '~~/shared/catalogue/words'
import type { ItemForm } from '~/composables/catalogue/use-item-form'
import type { StillUsed } from '~/components/catalogue/Retire.vue'

const props = defineProps<{
  fields: Record<string, string>
  disabled?: boolean
  fresh?: boolean
  /** The item that is kept; none while it is new. */
  itemId?: number
}>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const { changeGroup } = useInherited(form)
const adding = ref(false)
const { amount } = usePrint()
/** What stands against retiring it, once that is asked for. */
const used = ref<StillUsed | null>(null)
async function setStatus(status: string | number | null): Promise<void> {
  const found = status === 'retired' && props.itemId ? await stillUsed(props.itemId, amount) : null
  if (found) {
    used.value = found
  } else {
    form.value.status = status as typeof form.value.status
  }
}
function retire(): void {
  form.value.status = 'retired'
  used.value = null
}
const free = ref<string | null>(null)
watch(
  () => form.value.groupId,
  async (group, before) => {
    if (before !== undefined) {
      changeGroup(props.fresh === true)
    }
    free.value =
      props.fresh && group !== null ? (await $fetch('/api/catalogue/free-code', { query: { group } })).code : null
    if (free.value && form.value.code === '') {
      form.value.code = free.value
    }
  },
  { immediate: true },
)
</script>

<template>
  <div class="grid grid-cols-2 md:grid-cols-6 gap-3">
    <UiTextField
      v-model="form.code"
      label="Code"
      :error="fields.code"
      :disabled="disabled"
      :hint="free && form.code !== free ? `next free: ${free}` : ''"
      :hint-act="free && form.code !== free ? 'take it' : undefined"
      @hint-act="form.code = free!"
    />
    <UiTextField v-model="form.name" label="Name" class="md:col-span-3" :error="fields.name" :disabled="disabled" />
    <div class="sm:col-span-2 flex items-start gap-1">
      <UiChoice
        v-model="form.groupId"
        label="Group"
        class="min-w-0 flex-1"
        :error="fields.groupId"
        :disabled="disabled"
        :options="references.groupChoices"
        :empty="form.groupId === null ? 'Choose …' : undefined"
      /><UiButton v-if="!disabled" class="beside-field" aria-label="Add a group" @click="adding = true">+</UiButton>
    </div>
    <UiTextField
      v-model="form.name2"
      label="Name in a second language"
      class="md:col-span-4"
      :error="fields.name2"
      :disabled="disabled"
    />
    <UiChoice
      v-model="form.kind"
      label="Kind"
      :error="fields.kind"
      :disabled="disabled"
      :options="ITEM_KINDS.map((s) => ({ value: s, name: s === 'stocked' ? 'held in stock' : 'service, not held' }))"
    />
    <UiChoice
      :key="used ? 'asked' : 'plain'"
      :model-value="form.status"
      label="Status"
      :error="fields.status"
      :disabled="disabled"
      :options="ITEM_STATUSES.map((s) => ({ value: s, name: s }))"
      :hint="
        form.status === 'no longer bought'
          ? 'what is there is sold and used up'
          : form.status === 'retired'
            ? 'offered no more; its history stays'
            : ''
      "
      @update:model-value="setStatus"
    />
    <CatalogueRetire v-if="used" :used="used" @retire="retire" @close="used = null" />
    <CatalogueQuickAdd
      v-if="adding"
      kind="groups"
      @done="
        (id) => {
          form.groupId = id
          adding = false
        }
      "
      @close="adding = false"
    />
  </div>
</template>
